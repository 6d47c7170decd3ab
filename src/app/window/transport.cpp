#include "app/window/transport.h"

#include "base/number.h"
#include <QHBoxLayout>
#include <QRegularExpression>

namespace rapt::app {
namespace {

constexpr int frameMs = 33;
constexpr int speeds[] = {1, 10, 60, 300, 1200};
constexpr int usualSpeed = 2;
constexpr int placeWidth = 200;

} // namespace

Transport::Transport(Session& s, QWidget* parent)
    : QWidget(parent), session(s), speed(new QComboBox), place(new QLabel) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    layout->addWidget(place);
    place->setObjectName("playPlace");
    place->setFixedWidth(placeWidth);
    place->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    place->setProperty("quiet", true);
    const auto add = [&](const QString& text, const char* name, const QString& help,
                         std::function<void()> act) {
        layout->addWidget(button(text, name, help, std::move(act)));
    };
    add("|◂", "toStart", tr("To the start (Home)"), [this] { toStart(); });
    add("◂◂", "lastChange", tr("To the thread change before (Page up)"),
        [this] { step(PlayStep::change, false); });
    add("◂", "lastStitch", tr("One stitch back (comma)"),
        [this] { step(PlayStep::stitch, false); });
    playButton = button(tr("Play"), "play", tr("Play the stitch-out, or stop it (Space)"),
                        [this] { isPlaying() ? pause() : play(); });
    layout->addWidget(playButton);
    add("▸", "nextStitch", tr("One stitch on (full stop)"),
        [this] { step(PlayStep::stitch, true); });
    add("▸▸", "nextChange", tr("To the next thread change (Page down)"),
        [this] { step(PlayStep::change, true); });
    add("▸|", "toEnd", tr("Show everything sewn (End)"), [this] { toEnd(); });
    for (const int factor : speeds) speed->addItem(tr("%1 ×").arg(factor), factor);
    speed->setCurrentIndex(usualSpeed);
    speed->setObjectName("playSpeed");
    speed->setFixedWidth(84);
    speed->setEditable(true);
    speed->setInsertPolicy(QComboBox::NoInsert);
    speed->setToolTip(tr("How many times as fast as the machine"));
    layout->addWidget(speed);
    timer.setInterval(frameMs);
    connect(&timer, &QTimer::timeout, this, &Transport::tick);
    connect(&session.playback, &PlaybackState::changed, this, &Transport::refresh);
    connect(&session.derivation, &Derivation::ready, this, &Transport::refresh);
    refresh();
}

QPushButton* Transport::button(const QString& text, const char* name, const QString& help,
                               std::function<void()> act) {
    auto* made = new QPushButton(text);
    made->setObjectName(name);
    made->setToolTip(help);
    made->setAccessibleName(help);
    made->setProperty("small", true);
    made->setFocusPolicy(Qt::TabFocus);
    connect(made, &QPushButton::clicked, this, [act = std::move(act)] { act(); });
    return made;
}

const TimeLine* Transport::time() const {
    const auto d = session.derived();
    return d && d->isWhole() && d->time().totalSeconds > 0 ? &d->time() : nullptr;
}

void Transport::play() {
    const TimeLine* line = time();
    if (!line) return;
    const StitchList& list = session.checked()->stitched().list;
    const Playhead from = session.playback.head().value_or(list.stitches.size());
    seconds = from >= list.stitches.size() ? 0 : secondsAt(*line, list, from);
    clock.start();
    timer.start();
    refresh();
}

void Transport::pause() {
    timer.stop();
    refresh();
}

/// What stands in the field, also typed; at least a tenth.
double Transport::factor() const {
    QString text = speed->currentText();
    text.remove(QRegularExpression("[^0-9.,]"));
    const auto typed = parseNumber(text.toStdString());
    return typed ? std::clamp(*typed, 0.1, 1e5) : speeds[usualSpeed];
}

void Transport::tick() {
    const TimeLine* line = time();
    if (!line) return pause();
    seconds += static_cast<double>(clock.restart()) / 1000 * factor();
    if (seconds >= line->totalSeconds) return toEnd();
    session.playback.setHead(placeAt(*line, session.checked()->stitched().list, seconds));
}

void Transport::step(PlayStep by, bool forward) {
    const TimeLine* line = time();
    if (!line) return;
    timer.stop();
    const StitchList& list = session.checked()->stitched().list;
    const Playhead next =
        stepFrom(*line, list, session.playback.head().value_or(list.stitches.size()), by, forward);
    if (next >= list.stitches.size())
        toEnd();
    else
        session.playback.setHead(next);
    refresh();
}

void Transport::toStart() {
    timer.stop();
    session.playback.setHead(Playhead{0});
    refresh();
}

void Transport::toEnd() {
    timer.stop();
    session.playback.setHead({});
    refresh();
}

bool Transport::takeKey(int key, Qt::KeyboardModifiers modifiers) {
    const PlayStep by = modifiers & Qt::ShiftModifier ? PlayStep::run : PlayStep::stitch;
    switch (key) {
    case Qt::Key_Space:
        isPlaying() ? pause() : play();
        return true;
    case Qt::Key_Comma:
    case Qt::Key_Less:
    case Qt::Key_Semicolon:
        step(by, false);
        return true;
    case Qt::Key_Period:
    case Qt::Key_Greater:
    case Qt::Key_Colon:
        step(by, true);
        return true;
    case Qt::Key_PageUp:
        step(PlayStep::change, false);
        return true;
    case Qt::Key_PageDown:
        step(PlayStep::change, true);
        return true;
    case Qt::Key_Home:
        toStart();
        return true;
    case Qt::Key_End:
        toEnd();
        return true;
    default:
        return false;
    }
}

void Transport::refresh() {
    const TimeLine* line = time();
    setEnabled(line != nullptr);
    playButton->setText(isPlaying() ? tr("Stop") : tr("Play"));
    if (!line || !session.playback.head()) {
        place->clear();
        return;
    }
    const StitchList& list = session.checked()->stitched().list;
    const Playhead at = *session.playback.head();
    place->setText(tr("stitch %L1, after %2   ")
                       .arg(stitchesDone(list, at))
                       .arg(QString::fromStdString(formatDuration(secondsAt(*line, list, at)))));
}

} // namespace rapt::app
