#include "app/ledger/lessons_page.h"

#include "app/theme/theme.h"
#include "base/paths.h"

#include <QDate>

namespace rapt::app {
namespace {

constexpr int mostRecords = 20'000; ///< the newest; more teach nothing new

const QStringList taughtBy{"date",
                           "fabric",
                           "outcome",
                           "cause",
                           "peak_layers",
                           "peak_hits_per_mm2",
                           "method",
                           "gaps_mm",
                           "predicted_join_rms_mm",
                           "placing_sigma_mm",
                           "draw_in_mm",
                           "machine",
                           "seconds_estimated",
                           "seconds_taken",
                           "labour_min_estimated",
                           "labour_min"};

QString text(const std::string& s) { return QString::fromStdString(s); }

QString number(double v) { return QString::number(v, 'f', v < 2 ? 2 : 1); }

/// Where the house value, the learnt one and its interval lie: said in words beside it.
class IntervalBar : public QWidget {
public:
    IntervalBar(const Lesson& l, QWidget* parent) : QWidget(parent), lesson(l) {
        setFixedHeight(44);
    }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Lesson lesson;
};

void IntervalBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const QPalette& c = palette();
    p.setRenderHint(QPainter::Antialiasing);
    const double low = std::min({lesson.house, lesson.learnt, lesson.interval.low}) * 0.9;
    const double high = std::max({lesson.house, lesson.learnt, lesson.interval.high}) * 1.1;
    const auto at = [&](double v) {
        return 6 + (v - low) / std::max(1e-9, high - low) * (width() - 12);
    };
    const double y = 12;
    p.setPen(QPen(c.mid().color(), 1));
    p.drawLine(QPointF(6, y), QPointF(width() - 6, y));
    p.setPen(QPen(c.text().color(), 5, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(at(lesson.interval.low), y), QPointF(at(lesson.interval.high), y));
    p.setPen(QPen(c.text().color(), 1.4));
    p.setBrush(c.base());
    p.drawEllipse(QPointF(at(lesson.house), y), 4.5, 4.5);
    p.setBrush(c.text());
    p.drawPolygon(QPolygonF{QPointF(at(lesson.learnt), y - 6), QPointF(at(lesson.learnt) + 5, y),
                            QPointF(at(lesson.learnt), y + 6), QPointF(at(lesson.learnt) - 5, y)});
    p.setFont(faceOf(12));
    const auto label = [&](double v, double top, const QString& name) {
        QRectF box(at(v) - 70, top, 140, 15);
        box.moveLeft(std::clamp(box.left(), 0.0, std::max(0.0, width() - box.width())));
        const auto align = box.left() <= 0          ? Qt::AlignLeft
                           : box.right() >= width() ? Qt::AlignRight
                                                    : Qt::AlignHCenter;
        p.drawText(box, align | Qt::AlignVCenter, name);
    };
    const bool close = std::abs(at(lesson.house) - at(lesson.learnt)) < 140;
    label(lesson.house, 17, QObject::tr("house %1").arg(number(lesson.house)));
    label(lesson.learnt, close ? 30 : 17, QObject::tr("learnt %1").arg(number(lesson.learnt)));
}

} // namespace

bool isOpen(const Lesson& lesson, const std::vector<LearntValue>& decided) {
    if (!lesson.isNews) return false;
    const LearntValue* v = findLearnt(decided, lesson.kind, lesson.subject);
    if (!v) return true;
    if (v->refused) return lesson.cases > 1.5 * v->cases;
    return std::abs(v->value / lesson.learnt - 1) > 0.05;
}

LessonsPage::LessonsPage(Session& s)
    : Page(s), scroll(new QScrollArea), words(wordsLabel()), title(headLabel({})),
      evidence(wordsLabel()), plot(new ChartView) {
    words->setObjectName("lessonWords");
    column->addWidget(words);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll, 1);
    auto* middle = makeCentre();
    title->setFont(faceOf(17, true));
    title->setObjectName("lessonTitle");
    middle->addWidget(title);
    middle->addWidget(evidence);
    plot->setObjectName("lessonPlot");
    middle->addWidget(plot, 1);
    connect(&session.ledger, &LedgerState::changed, this, [this] {
        stale = true;
        if (isVisible()) refresh();
    });
}

QString LessonsPage::summary() const {
    const auto n = std::count_if(lessons.begin(), lessons.end(),
                                 [&](const Lesson& l) { return isOpen(l, decided); });
    return n == 0 ? QString() : tr("%n {proposal|proposals}", nullptr, static_cast<int>(n));
}

void LessonsPage::refresh() {
    if (!stale) return;
    stale = false;
    struct Taught {
        std::vector<StitchOut> records;
        std::vector<Lesson> lessons;
        std::vector<LearntValue> decided;
    };
    session.ledger.ask(
        this,
        [](SharedLedger& l) -> Result<Taught> {
            auto found = l.with([](Ledger& r) { return r.find({}, mostRecords, {}, taughtBy); });
            if (!found) return found.error();
            const auto house = loadHouseLibrary(dataFolder(), userDataFolder());
            if (!house) return house.error();
            const auto shop = loadHouseShop(dataFolder(), userDataFolder());
            if (!shop) return shop.error();
            auto known = readLearnt(userDataFolder());
            if (!known) return known.error();
            auto taught = lessonsOf(*found, *house, *shop);
            return Taught{std::move(*found), std::move(taught), std::move(*known)};
        },
        [this](Result<Taught> taught) {
            if (!taught) return words->setText(text(taught.error().line()));
            records = std::move(taught->records);
            lessons = std::move(taught->lessons);
            decided = std::move(taught->decided);
            fill();
            emit changed();
        });
}

void LessonsPage::fill() {
    const QString open = summary();
    words->setText(
        lessons.empty()
            ? tr("Nothing to learn from yet. Limits, placing and times stay with the house values.")
        : open.isEmpty() ? tr("Nothing new. What is used now stands below.")
                         : tr("%1. Nothing changes until you accept it.").arg(open));
    auto* all = new QWidget;
    auto* lines = new QVBoxLayout(all);
    lines->setContentsMargins(0, 0, 4, 0);
    lines->setSpacing(8);
    const Lesson *first = nullptr, *before = nullptr;
    for (const bool now : {true, false})
        for (const Lesson& l : lessons)
            if (isOpen(l, decided) == now) {
                lines->addWidget(cardOf(l));
                if (!first) first = &l;
                if (l.kind + "-" + l.subject == shownLesson) before = &l;
            }
    lines->addStretch();
    scroll->setWidget(all);
    if (const Lesson* shown = before ? before : first) showEvidence(*shown);
}

/// The records that the lesson is taught by, as the chart that shows them best.
void LessonsPage::showEvidence(const Lesson& l) {
    shownLesson = l.kind + "-" + l.subject;
    title->setText(text(l.title));
    evidence->setText(text(l.evidence) + ".");
    const ChartKind kind = l.kind == "layers" || l.kind == "hits" ? ChartKind::breaks
                           : l.kind == "time"                     ? ChartKind::estimates
                                                                  : ChartKind::joins;
    const auto cloth = session.library.fabric(l.subject);
    plot->setData(l.kind == "setup" ? ChartData{}
                                    : chartOf(kind, records, cloth ? *cloth : Fabric()));
    delete interval;
    interval = new IntervalBar(l, central);
    static_cast<QVBoxLayout*>(central->layout())->insertWidget(2, interval);
}

QWidget* LessonsPage::cardOf(const Lesson& l) {
    auto* card = new QFrame;
    card->setProperty("card", true);
    card->setObjectName(text("lesson-" + l.kind + "-" + l.subject));
    auto* lines = new QVBoxLayout(card);
    lines->setContentsMargins(10, 8, 10, 8);
    lines->setSpacing(3);
    lines->addWidget(headLabel(text(l.title)));
    const LearntValue* v = findLearnt(decided, l.kind, l.subject);
    const bool accepted = v && !v->refused;
    const QString unit = text(l.unit);
    QString said;
    if (isOpen(l, decided))
        said = tr("%1 %2 instead of %3, nine times in ten between %4 and %5.")
                   .arg(number(l.learnt), unit, number(accepted ? v->value : l.house),
                        number(l.interval.low), number(l.interval.high));
    else if (accepted)
        said = tr("%1 %2, accepted %3 (house value %4).")
                   .arg(number(v->value), unit, text(v->date), number(l.house));
    else if (v)
        said = tr("%1 %2 stays; you refused %3.").arg(number(l.house), unit, number(v->value));
    else
        said = tr("%1 %2, the house value.").arg(number(l.house), unit);
    lines->addWidget(wordsLabel(said));
    const std::string id = l.kind + "-" + l.subject;
    lines->addWidget(button(tr("Show why"), ("why-" + id).c_str(), [this, l] { showEvidence(l); }));
    if (isOpen(l, decided)) {
        auto* accept =
            button(tr("Accept"), ("accept-" + id).c_str(), [this, l] { decide(l, true); });
        accept->setProperty("main", true);
        lines->addLayout(sideBySide({accept, button(tr("Refuse"), ("refuse-" + id).c_str(),
                                                    [this, l] { decide(l, false); })}));
    } else if (v) {
        lines->addLayout(
            sideBySide({button(accepted ? tr("Back to the house value") : tr("Ask me again"),
                               ("undo-" + id).c_str(), [this, l] { undo(l); })}));
    }
    return card;
}

void LessonsPage::decide(const Lesson& l, bool accept) {
    LearntValue v{l.kind,
                  l.subject,
                  l.learnt,
                  l.house,
                  static_cast<int>(l.cases),
                  l.interval.low,
                  l.interval.high,
                  QDate::currentDate().toString(Qt::ISODate).toStdString(),
                  !accept};
    const Status kept = session.learn(v);
    if (!kept) return emit failed(tr("It is not kept"), text(kept.error().line()));
    stale = true;
    refresh();
}

void LessonsPage::undo(const Lesson& l) {
    const Status dropped = session.unlearn(l.kind, l.subject);
    if (!dropped) return emit failed(tr("It is not undone"), text(dropped.error().line()));
    stale = true;
    refresh();
}

} // namespace rapt::app
