#include "app/weigh/pieces_page.h"

#include "app/theme/theme.h"
#include "app/weigh/findings_list.h"

#include <QHeaderView>
#include <QPainter>

namespace rapt::app {
namespace {

enum Column { name, scale, rows, peak, columnCount };

QIcon severityIcon(Severity severity) {
    QPixmap pixmap(32, 32);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paintSeverity(painter, QPointF(8, 8), 6, severity);
    return pixmap;
}

QIcon tickIcon() {
    QPixmap pixmap(32, 32);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().tide, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.drawPolyline(QPolygonF{QPointF(3, 8), QPointF(7, 12), QPointF(13, 4)});
    return pixmap;
}

QString number(const std::optional<double>& value) {
    return value ? QString::number(*value, 'f', 2) : QString("–");
}

} // namespace

PiecesPage::PiecesPage(Session& s)
    : Page(s), table(new QTableWidget(0, columnCount)), words(wordsLabel()) {
    table->setHorizontalHeaderLabels({tr("Piece"), tr("Scale"), tr("Rows"), tr("Peak")});
    table->setObjectName("weighTable");
    table->setAccessibleName(tr("Pieces and their load"));
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table->setTextElideMode(Qt::ElideNone);
    table->setIconSize({16, 16});
    table->setFont(faceOf(12));
    table->setWordWrap(true);
    table->horizontalHeader()->setSectionResizeMode(name, QHeaderView::Stretch);
    for (const auto& [c, width] : {std::pair{scale, 52}, {rows, 82}, {peak, 44}}) {
        table->horizontalHeader()->setSectionResizeMode(c, QHeaderView::Fixed);
        table->setColumnWidth(c, width);
    }
    column->addWidget(table);
    column->addWidget(words);
    connect(table, &QTableWidget::itemSelectionChanged, this, &PiecesPage::takeSelection);
}

QString PiecesPage::verdictOf(const std::string& piece, Severity* severity) const {
    const Finding* worst = nullptr;
    for (const Finding& f : session.checked()->findings())
        if (std::find(f.pieces.begin(), f.pieces.end(), piece) != f.pieces.end() &&
            (!worst || f.severity < worst->severity))
            worst = &f;
    if (!worst) return {};
    *severity = worst->severity;
    return QString::fromStdString(worst->text);
}

void PiecesPage::refresh() {
    const Derived* checked = session.checked();
    refreshing = true;
    table->setRowCount(0);
    words->clear();
    if (checked)
        for (const PieceFacts& f : checked->facts())
            if (const Piece* piece = session.job().piece(f.piece)) addRow(*piece, f);
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (words->text().isEmpty() && fabric)
        words->setText(tr("Rows: spacing as made → now. Peak: most layers on the ground of the "
                          "piece; %1 takes %2.")
                           .arg(QString::fromStdString(fabric->name))
                           .arg(fabric->maxLayers, 0, 'f', 1));
    table->resizeRowsToContents();
    table->setFixedHeight(std::clamp(34 + table->verticalHeader()->length(), 120, 380));
    refreshing = false;
}

void PiecesPage::addRow(const Piece& piece, const PieceFacts& f) {
    const int r = table->rowCount();
    table->insertRow(r);
    Severity severity = Severity::note;
    QString verdict = verdictOf(f.piece, &severity);
    const QIcon icon = verdict.isEmpty() ? tickIcon() : severityIcon(severity);
    if (verdict.isEmpty()) verdict = tr("The cloth takes it.");
    const QString shown = QString::fromStdString(piece.name);
    const QString size =
        tr("%1 × %2").arg(session.lengthText(f.widthMm), session.lengthText(f.heightMm));
    const auto put = [&](Column c, const QString& text) {
        auto* item = new QTableWidgetItem(text);
        item->setToolTip(tr("%1: %2. %3").arg(shown, size, verdict));
        if (c != name) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        table->setItem(r, c, item);
        return item;
    };
    const QString small =
        session.unit() == LengthUnit::inch
            ? size
            : tr("%1 × %2 mm").arg(f.widthMm, 0, 'f', 0).arg(f.heightMm, 0, 'f', 0);
    auto* first = put(name, shown + "\n" + small);
    first->setIcon(icon);
    first->setData(Qt::UserRole, QString::fromStdString(f.piece));
    put(scale, f.scaleX == f.scaleY
                   ? tr("%1 %").arg(100 * f.scaleX, 0, 'f', 0)
                   : tr("%1 × %2 %").arg(100 * f.scaleX, 0, 'f', 0).arg(100 * f.scaleY, 0, 'f', 0));
    const bool same =
        f.spacingThenMm && f.spacingNowMm && std::abs(*f.spacingThenMm - *f.spacingNowMm) < 0.005;
    put(rows,
        same ? number(f.spacingNowMm) : number(f.spacingThenMm) + "→" + number(f.spacingNowMm));
    put(peak, QString::number(f.peakLayers, 'f', 1));
    if (!session.selection.contains(f.piece)) return;
    table->selectRow(r);
    words->setText(tr("%1: %2, %L3 stitches. %4").arg(shown, size).arg(f.stitches).arg(verdict));
}

void PiecesPage::takeSelection() {
    if (refreshing) return;
    std::vector<std::string> ids;
    for (const QModelIndex& row : table->selectionModel()->selectedRows())
        ids.push_back(table->item(row.row(), name)->data(Qt::UserRole).toString().toStdString());
    session.selection.chooseSingly(std::move(ids));
}

} // namespace rapt::app
