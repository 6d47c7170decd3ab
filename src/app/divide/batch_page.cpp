#include "app/divide/batch_page.h"

#include "app/kit/frame_name.h"
#include "app/kit/plain_table.h"
#include "app/layers/hooping_overlay.h"
#include "app/raster/thread_raster.h"
#include "app/theme/theme.h"
#include "job/stitching.h"
#include "thread/measures.h"

#include <QPainter>
#include <QPainterPath>

namespace rapt::app {
namespace {

constexpr int threadPx = 500;

} // namespace

BatchPicture::BatchPicture(QWidget* parent) : QWidget(parent) {
    setObjectName("batchPicture");
    setMinimumHeight(240);
}

void BatchPicture::show(const std::optional<Hoop>& hoop, const std::vector<BatchPlace>& places,
                        const Box& size, const QImage& picture) {
    frame = hoop;
    items = places;
    item = size;
    thread = picture;
    update();
}

void BatchPicture::paintEvent(QPaintEvent*) {
    if (!frame) return;
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const double scale =
        std::min((width() - 8) / frame->outerWidthMm, (height() - 8) / frame->outerHeightMm);
    p.translate(width() / 2.0, height() / 2.0);
    p.scale(scale, scale);
    const auto around = [](Vec2 at, double w, double h) {
        return QRectF(at.x - w / 2, at.y - h / 2, w, h);
    };
    p.setPen(QPen(t.ink, 1.6 / scale));
    p.setBrush(t.panel);
    p.drawRoundedRect(around({}, frame->outerWidthMm, frame->outerHeightMm), 12, 12);
    p.setPen(QPen(t.ink2, 1 / scale, Qt::DashLine));
    p.setBrush(t.paper);
    for (const FramePosition& position : frame->positions) {
        p.save();
        p.translate(position.at.x, position.at.y);
        p.rotate(position.turnDeg);
        p.drawPath(fieldPath(*frame));
        p.restore();
    }
    for (std::size_t i = 0; i < items.size(); ++i) {
        p.save();
        p.translate(items[i].at.x, items[i].at.y);
        if (items[i].turned) p.rotate(90);
        const QRectF box = around({}, item.width(), item.height());
        p.setPen(QPen(t.rule, 1 / scale));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box);
        if (!thread.isNull()) p.drawImage(box, thread);
        p.restore();
    }
}

BatchPage::BatchPage(Session& s)
    : Page(s), quantity(new NumberEdit("Items", "", 0)), gap(new LengthEdit(s, "Gap")),
      table(new RowsTable({tr("Frame"), tr("Items in it"), tr("Hoopings"), tr("Places left over"),
                           tr("Stabilizer"), tr("Time, h:min")},
                          "batchTable")),
      picture(new BatchPicture), words(wordsLabel()), nameList(new QPlainTextEdit),
      layOut(button(tr("Lay out one hooping"), "layBatch", [this] { lay(); })) {
    quantity->setRange(1, 100'000);
    gap->setRange(0, 500);
    column->addLayout(pairRow(tr("Items"), quantity, tr("Gap"), gap));
    auto* middle = makeCentre();
    middle->addWidget(headLabel(tr("One hooping, filled")));
    middle->addWidget(picture, 1);
    middle->addWidget(headLabel(tr("Frames that take an item")));
    table->setVisibleRows(8);
    middle->addWidget(table);
    table->setAccessibleName(tr("Frames for the batch"));
    nameList->setObjectName("batchNames");
    nameList->setPlaceholderText(tr("One name a line, for a layout with one piece of lettering"));
    nameList->setFixedHeight(84);
    column->addWidget(words);
    column->addWidget(headLabel(tr("Names, if each item bears one")));
    column->addWidget(nameList);
    column->addWidget(layOut);
    column->addStretch();
    connect(quantity, &NumberEdit::typed, this, [this](double n) {
        request.quantity = static_cast<int>(n);
        ask();
    });
    connect(gap, &LengthEdit::typed, this, [this](double mm) {
        request.gapMm = mm;
        ask();
    });
    connect(table, &RowsTable::rowChosen, this, &BatchPage::showOffer);
    connect(nameList, &QPlainTextEdit::textChanged, this, &BatchPage::showOffer);
    connect(laying.get(), &Errands::busyChanged, this, &BatchPage::fill);
}

void BatchPage::refresh() {
    if (const int briefed = session.job().brief.quantity; briefed != quantityInBrief)
        request.quantity = quantityInBrief = briefed;
    quantity->setValue(request.quantity);
    gap->setMm(request.gapMm);
    if (answer.revision != session.document.revision() && !planning->isBusy()) ask();
    fill();
}

void BatchPage::ask() {
    planning->ask(
        session.asItIsNow(),
        [job = session.job(), library = session.library, asked = request,
         revision = session.document.revision()](std::stop_token) {
            Answer a{revision, {}, {}, {}, {}};
            const auto offers = planBatch(job, library.hoops, library, asked);
            if (offers)
                a.offers = *offers;
            else
                a.reason = QString::fromStdString(offers.error().reason);
            if (const auto stitched = stitchJob(job)) {
                a.item = extentsOf(stitched->list);
                a.thread = threadPicture(stitched->list, threadPx);
            }
            return a;
        },
        [this](const Answer& made) {
            answer = made;
            fill();
        });
}

std::vector<std::string> BatchPage::names() const {
    std::vector<std::string> list;
    for (const QString& line : nameList->toPlainText().split('\n', Qt::SkipEmptyParts))
        if (!line.trimmed().isEmpty()) list.push_back(line.trimmed().toStdString());
    return list;
}

void BatchPage::fill() {
    const auto& owned = session.job().brief.hoops;
    std::vector<TableRow> rows;
    int firstOwned = -1;
    for (const BatchOffer& o : answer.offers) {
        QString name = frameName(session.library, o.hoop);
        if (std::find(owned.begin(), owned.end(), o.hoop) != owned.end()) {
            name = "✓ " + name;
            if (firstOwned < 0) firstOwned = static_cast<int>(rows.size());
        }
        rows.push_back({QString::fromStdString(o.hoop),
                        {name, QString::number(o.perClamping()), QString::number(o.clampings),
                         QString::number(o.leftOver), tr("%1 cm²").arg(o.stabilizerCm2, 0, 'f', 0),
                         hoursText(o.seconds)}});
    }
    const bool wasChosen = table->currentRow() >= 0;
    table->setRows(rows);
    if (!rows.empty() && (!wasChosen || table->currentRow() < 0))
        table->selectRow(std::max(0, firstOwned));
    showOffer();
}

const BatchOffer* BatchPage::chosen() const {
    const int i = table->currentRow();
    return i >= 0 && i < static_cast<int>(answer.offers.size())
               ? &answer.offers[static_cast<std::size_t>(i)]
               : nullptr;
}

void BatchPage::showOffer() {
    const BatchOffer* o = chosen();
    layOut->setEnabled(o && !laying->isBusy());
    if (!o) {
        words->setText(answer.reason);
        return picture->show({}, {}, {}, {});
    }
    const auto hoop = session.library.hoop(o->hoop);
    picture->show(hoop ? std::optional(*hoop) : std::nullopt, o->places, answer.item,
                  answer.thread);
    QString text;
    if (!o->lastIn.empty()) {
        const auto last = session.library.hoop(o->lastIn);
        text += tr("The last hooping is not full: in %1 it saves %2 cm². ")
                    .arg(QString::fromStdString(last ? last->name : o->lastIn))
                    .arg(o->lastSavesCm2, 0, 'f', 0);
    }
    if (const auto given = names();
        !given.empty() && static_cast<int>(given.size()) > o->perClamping())
        text += tr("%n {name is|names are} left for the next hooping.", nullptr,
                   static_cast<int>(given.size()) - o->perClamping());
    words->setText(text);
}

void BatchPage::lay() {
    const BatchOffer* o = chosen();
    if (!o || laying->isBusy()) return;
    laying->ask(
        session.inThisJob(),
        [job = session.job(), library = session.library, offer = *o,
         given = names()](std::stop_token) { return batchJob(job, offer, library, given); },
        [this](const Result<Job>& made) {
            if (made)
                emit jobMade(*made);
            else
                emit failed(tr("The batch was not laid out."),
                            QString::fromStdString(made.error().reason));
        });
}

} // namespace rapt::app
