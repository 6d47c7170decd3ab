#include "app/register/scan_reader.h"

#include "base/file_io.h"
#include "registration/guided.h"

namespace rapt::app {
namespace {

constexpr std::size_t maxScanBytes = 200'000'000;

} // namespace

ScanReader::ScanReader(Session& s, QObject* parent) : QObject(parent), session(s) {
    connect(reading.get(), &Errands::busyChanged, this, [this] {
        if (reading->isBusy())
            emit started();
        else
            emit ended();
    });
}

bool ScanReader::readsBefore() const {
    const int number = session.hooping() + 1;
    if (number < 2 || methodOf(session.job()) != Method::chain) return false;
    const auto next = nextStep(guidedSteps(session.job(), number));
    return next && (next->id == "cards" || next->id == "before");
}

int ScanReader::hoopingBefore() const {
    const auto& hoopings = session.job().hoopings;
    const int own = hoopings[static_cast<std::size_t>(session.hooping())].clamping;
    int last = 1;
    for (std::size_t i = 0; i < hoopings.size(); ++i)
        if (hoopings[i].clamping < own) last = static_cast<int>(i) + 1;
    // Of a clamping in several positions the first: scans show the frame, which is the same.
    while (last > 1 && hoopings[static_cast<std::size_t>(last) - 2].clamping ==
                           hoopings[static_cast<std::size_t>(last) - 1].clamping)
        --last;
    return last;
}

void ScanReader::readFile(const QString& path) {
    read(path, [file = path.toStdString()] { return readWholeFile(file, maxScanBytes); });
}

void ScanReader::readBytes(std::string bytes, const QString& name) {
    read(name, [bytes = std::move(bytes)]() -> Result<std::string> { return bytes; });
}

void ScanReader::takePicture(PhotographOptions options) {
    if (session.hooping() < 0) return;
    const bool before = readsBefore();
    options.hooping = before ? hoopingBefore() : session.hooping() + 1;
    const Hooping& own = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
    const Registration* r = session.job().registration(session.hooping() + 1);
    if (before)
        options.cardsOnCloth = cardsLaidByHand(own, options.seed);
    else if (r && !r->placed.empty())
        options.cardsOnCloth = r->placed;
    // Before the cloth is taken out it lies where that hooping was sewn.
    if (before) options.cloth = Pose{};
    read(tr("the stand-in's picture"),
         [options, job = session.job(), library = session.library]() -> Result<std::string> {
             const auto photo = photograph(job, library, options);
             if (!photo) return photo.error();
             return encodePng(photo->picture);
         });
}

void ScanReader::cancel() { reading->cancel(); }

/// In the background: a picture takes a second or more.
void ScanReader::read(const QString& name, Bytes bytes) {
    if (session.hooping() < 0) return;
    const int next = session.hooping() + 1;
    const bool before = readsBefore();
    const int hooping = before ? hoopingBefore() : next;
    const auto derived = session.derived();
    const auto planned = derived && session.isCurrent() ? derived->planned : nullptr;
    reading->ask(
        session.atThisHooping(),
        [this, name, bytes = std::move(bytes), hooping, next, before, planned, job = session.job(),
         library = session.library](std::stop_token stop) -> Result<Read> {
            Result<std::string> data = bytes();
            if (!data) return data.error();
            const auto picture = decodeImage(*data, name.toStdString());
            if (!picture) return picture.error();
            ScanTask task{&job, &library, planned ? &planned->lists : nullptr, hooping, {},
                          stop, {}};
            if (planned && planned->lists.empty()) task.lists = nullptr;
            task.progress = [&](double share) {
                QMetaObject::invokeMethod(
                    this, [this, share] { emit progressed(static_cast<int>(share * 100)); });
            };
            Read result;
            result.bytes = std::make_shared<const std::string>(std::move(*data));
            if (before) {
                auto found = cardsBefore(*picture, task, next);
                if (!found) return found.error().inside(name.toStdString());
                result.before = std::move(*found);
            } else {
                auto found = proposalsFrom(*picture, task);
                if (!found) return found.error().inside(name.toStdString());
                result.proposals = std::move(*found);
            }
            return result;
        },
        [this, next](const Result<Read>& result) { take(next, result); });
}

void ScanReader::take(int hooping, const Result<Read>& result) {
    if (!result)
        return emit failed(tr("This scan cannot be read"),
                           QString::fromStdString(result.error().line()));
    const Read& read = *result;
    if (read.proposals) {
        session.registering.propose({hooping, *read.proposals, read.bytes, {}});
        emit proposed();
        return;
    }
    const std::size_t n = read.before->placed.size();
    QString words =
        n == 1 ? tr("1 card measured on the cloth.") : tr("%1 cards measured on the cloth.").arg(n);
    for (const std::string& name : read.before->missing)
        words += " " + tr("%1 is missing.").arg(QString::fromStdString(name));
    if (!read.before->placed.empty())
        session.document.apply(setPlacedCards(hooping, read.before->placed));
    emit measuredBefore(words);
}

} // namespace rapt::app
