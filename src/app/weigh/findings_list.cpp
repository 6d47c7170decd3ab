#include "app/weigh/findings_list.h"

#include "app/kit/readout_parts.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QtMath>

namespace rapt::app {
namespace {

constexpr int widestLabel = 262;

QStringList alsoOf(const std::vector<Finding>& findings, const ToldFinding& told) {
    QStringList also;
    for (const std::size_t i : told.also)
        also << QString::fromStdString(alsoText(findings[told.worst], findings[i])) + ".";
    return also;
}

} // namespace

void paintSeverity(QPainter& painter, QPointF c, double r, Severity severity) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    QPolygonF shape;
    if (severity == Severity::stop) {
        for (int k = 0; k < 8; ++k) {
            const double a = qDegreesToRadians(22.5 + 45.0 * k);
            shape << c + QPointF(r * qCos(a), r * qSin(a));
        }
        painter.setBrush(theme().stop);
        painter.drawPolygon(shape);
    } else if (severity == Severity::caution) {
        shape << c + QPointF(0, -r) << c + QPointF(r, 0.8 * r) << c + QPointF(-r, 0.8 * r);
        painter.setBrush(theme().caution);
        painter.drawPolygon(shape);
    } else {
        painter.setPen(QPen(theme().note, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(c, r - 1, r - 1);
    }
    painter.restore();
}

FindingCard::FindingCard(const Finding& f, const QStringList& more, Session& s, QWidget* parent)
    : QWidget(parent), finding(f), also(more), cause(quietLabel({})), session(s) {
    setFocusPolicy(Qt::StrongFocus);
    if (finding.at) setCursor(Qt::PointingHandCursor);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(34, 9, 10, 9);
    layout->setSpacing(3);
    auto* text = new QLabel(QString::fromStdString(finding.text));
    text->setWordWrap(true);
    layout->addWidget(text);
    if (!also.isEmpty()) layout->addWidget(quietLabel(also.join(" ")));
    layout->addWidget(cause);
    setAccessibleName(
        QString("%1: %2").arg(nameOf(finding.severity), QString::fromStdString(finding.text)));
    setToolTip(!finding.at         ? QString()
               : finding.count > 1 ? tr("Show the worst place; again for the next")
                                   : tr("Show the place"));
    showRemedies();
}

bool FindingCard::isAbout(const Finding& other, const QStringList& otherAlso) const {
    return also == otherAlso && finding.kind == other.kind && finding.at == other.at &&
           finding.text == other.text && finding.severity == other.severity;
}

void FindingCard::takeRemedies(const Finding& known) {
    const bool same = finding.remediesOpen == known.remediesOpen &&
                      finding.remedies.size() == known.remedies.size();
    finding = known;
    if (!same) showRemedies();
}

void FindingCard::showRemedies() {
    const QString why = QString::fromStdString(finding.why());
    cause->setText(why);
    cause->setVisible(!why.isEmpty());
    if (mending) mending->deleteLater();
    mending = new QWidget;
    auto* lines = new QVBoxLayout(mending);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(3);
    layout()->addWidget(mending);
    for (const Remedy& remedy : finding.remedies)
        addRemedy(remedy, &remedy == finding.remedy() ? "remedy" : "otherRemedy");
    if (finding.remediesOpen) lines->addWidget(quietLabel(tr("Looking for what mends it …")));
    mending->setVisible(lines->count() > 0);
}

/// A copy of the remedy is applied: the card is gone once the job is judged anew.
void FindingCard::addRemedy(const Remedy& remedy, const char* name) {
    const QString label = QString::fromStdString(remedy.label);
    const QFontMetrics metrics(faceOf(13, true));
    QString shown = label;
    // The card says already what it is about.
    if (const Piece* p =
            finding.pieces.size() == 1 ? session.job().piece(finding.pieces[0]) : nullptr;
        p && metrics.horizontalAdvance(label) > widestLabel)
        shown.replace(QString::fromStdString(p->name), tr("it"));
    auto* button = new QPushButton(metrics.elidedText(shown, Qt::ElideMiddle, widestLabel));
    button->setAccessibleName(label);
    button->setProperty("link", true);
    button->setCursor(Qt::PointingHandCursor);
    button->setObjectName(name);
    button->setToolTip(label);
    mending->layout()->addWidget(button);
    mending->layout()->addWidget(quietLabel(QString::fromStdString(remedy.effect)));
    connect(button, &QPushButton::clicked, this,
            [this, edit = remedy.edit] { session.document.apply(edit); });
}

void FindingCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? theme().tide : theme().rule, 1));
    painter.setBrush(theme().dark ? theme().paper : QColor(Qt::white));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
    paintSeverity(painter, QPointF(18, 18), 7.5, finding.severity);
}

void FindingCard::show() {
    if (!finding.pieces.empty()) session.selection.choose({finding.pieces.front()});
    session.derivation.seekFirst(finding);
    if (finding.places.empty()) {
        if (finding.at) session.showPlace(*finding.at);
        return;
    }
    session.showPlace(finding.places[shownPlace]);
    shownPlace = (shownPlace + 1) % finding.places.size();
}

void FindingCard::mouseReleaseEvent(QMouseEvent*) { show(); }

void FindingCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        show();
    else
        QWidget::keyPressEvent(event);
}

FindingsList::FindingsList(Session& s, QWidget* parent)
    : QWidget(parent), session(s), count(quietLabel({})) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->addWidget(headLabel(tr("Findings")));
    head->addStretch();
    head->addWidget(count);
    count->setWordWrap(false);
    layout->addLayout(head);
    connect(&session.derivation, &Derivation::ready, this, [this](Phase phase) {
        if (phase != Phase::weight && phase != Phase::comparison) refresh();
    });
    refresh();
}

/// True if the cards are those of these findings already.
bool FindingsList::takeRemedies(const std::vector<Finding>& findings,
                                const std::vector<ToldFinding>& told) {
    if (cards.size() != told.size() || told.empty()) return false;
    for (std::size_t i = 0; i < told.size(); ++i)
        if (!cards[i]->isAbout(findings[told[i].worst], alsoOf(findings, told[i]))) return false;
    for (std::size_t i = 0; i < told.size(); ++i) cards[i]->takeRemedies(findings[told[i].worst]);
    return true;
}

QString FindingsList::countText(const std::vector<Finding>& findings) {
    const char* names[][2] = {{"stop", "stops"}, {"caution", "cautions"}, {"note", "notes"}};
    const auto told = toldTogether(findings);
    QStringList parts;
    for (int k = 0; k < 3; ++k) {
        const auto n = std::count_if(told.begin(), told.end(), [&](const ToldFinding& t) {
            return findings[t.worst].severity == static_cast<Severity>(k);
        });
        if (n > 0) parts << QString("%1 %2").arg(n).arg(names[k][n == 1 ? 0 : 1]);
    }
    return parts.isEmpty() ? QObject::tr("none open") : parts.join(" · ");
}

void FindingsList::refresh() {
    const Derived* checked = session.checked();
    const auto told = checked ? toldTogether(checked->findings()) : std::vector<ToldFinding>();
    if (checked && takeRemedies(checked->findings(), told)) return;
    cards.clear();
    if (box) {
        box->hide();
        box->deleteLater();
        box = nullptr;
    }
    if (!checked) {
        const auto derived = session.derived();
        count->setText(derived ? derived->problem : tr("being worked out"));
        return;
    }
    count->setText(countText(checked->findings()));
    if (checked->findings().empty()) return;
    // Shown together: each card shown alone would lay the whole column out again.
    box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    for (const ToldFinding& t : told) {
        cards.push_back(
            new FindingCard(checked->findings()[t.worst], alsoOf(checked->findings(), t), session));
        column->addWidget(cards.back());
    }
    layout()->addWidget(box);
}

} // namespace rapt::app
