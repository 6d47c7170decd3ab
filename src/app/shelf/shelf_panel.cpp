#include "app/shelf/shelf_panel.h"

#include "app/kit/questions.h"
#include "app/kit/readout_parts.h"
#include "app/theme/theme.h"
#include "base/paths.h"
#include "estimate/timing.h"

#include <QInputDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QStyledItemDelegate>

namespace rapt::app {
namespace {

constexpr int panelWidth = 288;
constexpr int cardHeight = 84;
constexpr int pictureSide = 68;

/// A card: the design as thread on cloth, its name and its numbers.
class CardDelegate : public QStyledItemDelegate {
public:
    CardDelegate(Session& s, QObject* parent) : QStyledItemDelegate(parent), session(s) {}

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {panelWidth - 30, cardHeight};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const auto facts = index.data(ShelfModel::factsRole).value<DesignFacts>();
        const QRect card = option.rect.adjusted(2, 2, -2, -2);
        const bool chosen = option.state & QStyle::State_Selected;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setPen(QPen(chosen ? theme().tide : theme().rule, chosen ? 1.6 : 1));
        painter->setBrush(theme().panel);
        painter->drawRoundedRect(card, 6, 6);
        const QRect picture(card.left() + 6, card.top() + 6, pictureSide, pictureSide);
        const Rgb cloth = session.job().cloth.color;
        painter->fillRect(picture, QColor(cloth.r, cloth.g, cloth.b));
        if (!facts.picture.isNull()) {
            const QImage fitted = facts.picture.scaled(
                picture.size() - QSize(6, 6), Qt::KeepAspectRatio, Qt::SmoothTransformation);
            painter->drawImage(picture.center() - QPoint(fitted.width(), fitted.height()) / 2,
                               fitted);
        }
        paintWords(painter,
                   QRect(picture.right() + 10, card.top() + 5, card.right() - picture.right() - 16,
                         card.height() - 8),
                   facts, index);
        painter->restore();
    }

private:
    void paintWords(QPainter* painter, QRect area, const DesignFacts& facts,
                    const QModelIndex& index) const {
        const QFontMetrics bold(faceOf(13, true)), plain(faceOf(12));
        painter->setFont(faceOf(13, true));
        painter->setPen(theme().ink);
        painter->drawText(area.left(), area.top() + 14,
                          bold.elidedText(facts.name, Qt::ElideRight, area.width()));
        painter->setFont(faceOf(12));
        QStringList lines;
        if (!facts.problem.isEmpty()) {
            painter->setPen(theme().stop);
            painter->drawText(QRect(area.left(), area.top() + 20, area.width(), 50),
                              Qt::TextWordWrap, QObject::tr("Cannot be read. ") + facts.problem);
            return;
        }
        if (!index.data(ShelfModel::readRole).toBool()) {
            lines << QObject::tr("reading…");
        } else {
            lines << QString("%1 × %2 mm")
                         .arg(facts.widthMm, 0, 'f', 1)
                         .arg(facts.heightMm, 0, 'f', 1);
            lines << QString("%1 × %2").arg(
                QString::fromStdString(formatLength(facts.widthMm, LengthUnit::inch)),
                QString::fromStdString(formatLength(facts.heightMm, LengthUnit::inch)));
            lines << QObject::tr("%L1 st., %2 thr., %3")
                         .arg(facts.stitches)
                         .arg(facts.threads)
                         .arg(QString::fromStdString(formatDuration(facts.seconds)));
        }
        painter->setPen(theme().ink2);
        for (int i = 0; i < lines.size(); ++i)
            painter->drawText(area.left(), area.top() + 32 + 16 * i,
                              plain.elidedText(lines[i], Qt::ElideRight, area.width()));
    }

    Session& session;
};

} // namespace

ShelfPanel::ShelfPanel(Session& s, QWidget* parent)
    : QWidget(parent), session(s),
      designs(new ShelfModel(
          QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/shelf", this)),
      filter(new ShelfFilter(this)), search(new QLineEdit), order(new QComboBox),
      cards(new QListView), state(quietLabel({})) {
    setFixedWidth(panelWidth);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 12, 10, 10);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->addWidget(headLabel(tr("Shelf")));
    head->addStretch();
    auto* add = new QPushButton(tr("Add a folder…"));
    add->setObjectName("addFolder");
    connect(add, &QPushButton::clicked, this, &ShelfPanel::addFolder);
    head->addWidget(add);
    column->addLayout(head);
    search->setObjectName("shelfSearch");
    search->setPlaceholderText(tr("name, tag, <100mm, 3 threads"));
    search->setClearButtonEnabled(true);
    search->setAccessibleName(tr("Find a design"));
    column->addWidget(search);
    order->setObjectName("shelfOrder");
    order->addItems({tr("by name"), tr("by size"), tr("by stitches"), tr("by threads")});
    order->setAccessibleName(tr("Order of the shelf"));
    column->addWidget(order);
    filter->setSourceModel(designs);
    filter->sort(0);
    cards->setModel(filter);
    cards->setObjectName("shelfCards");
    cards->setAccessibleName(tr("Designs"));
    cards->setItemDelegate(new CardDelegate(session, cards));
    cards->setUniformItemSizes(true);
    cards->setDragEnabled(true);
    cards->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    cards->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    cards->setContextMenuPolicy(Qt::CustomContextMenu);
    cards->setFrameShape(QFrame::NoFrame);
    cards->installEventFilter(this);
    column->addWidget(cards, 1);
    column->addWidget(state);
    connect(search, &QLineEdit::textChanged, filter, &ShelfFilter::setSearch);
    connect(search, &QLineEdit::textChanged, this, &ShelfPanel::showState);
    connect(order, &QComboBox::activated, this,
            [this](int i) { filter->setOrder(static_cast<ShelfFilter::Order>(i)); });
    connect(cards, &QListView::doubleClicked, this, [this] { emit sent(chosen()); });
    connect(cards, &QWidget::customContextMenuRequested, this, &ShelfPanel::showMenu);
    connect(designs, &ShelfModel::listed, this, &ShelfPanel::showState);
    connect(designs, &ShelfModel::read, this, &ShelfPanel::showState);
    QStringList folders = QSettings().value("shelf/folders").toStringList();
    if (folders.isEmpty()) folders << QString::fromStdString(dataFolder()) + "/designs";
    designs->setFolders(folders);
}

void ShelfPanel::setFolders(const QStringList& folders) {
    QSettings().setValue("shelf/folders", folders);
    designs->setFolders(folders);
}

void ShelfPanel::addFolder() {
    const QString folder = askFolder(window(), tr("A folder of designs"));
    if (folder.isEmpty()) return;
    QStringList folders = designs->folders();
    if (!folders.contains(folder)) folders << folder;
    setFolders(folders);
}

QString ShelfPanel::chosen() const {
    return cards->currentIndex().data(ShelfModel::pathRole).toString();
}

void ShelfPanel::showState() {
    QString words = tr("%L1 of %L2 designs").arg(filter->rowCount()).arg(designs->rowCount());
    if (designs->rowCount() == 0)
        words = tr("No designs here. Add a folder of stitch lists or SVG drawings.");
    for (const QString& folder : designs->missing())
        words += "\n" + tr("%1 is not there now.").arg(folder);
    state->setText(words);
}

bool ShelfPanel::eventFilter(QObject* object, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
        if (enter && !chosen().isEmpty()) {
            if (key->modifiers() & Qt::ShiftModifier)
                emit replaceAsked(chosen());
            else
                emit sent(chosen());
            return true;
        }
    }
    return QWidget::eventFilter(object, event);
}

void ShelfPanel::editTags() {
    const QString path = chosen();
    bool good = false;
    const QString now = QSettings()
                            .value("shelf/tags/" + QString(path).replace('/', '|'))
                            .toStringList()
                            .join(", ");
    const QString typed = QInputDialog::getText(this, tr("Tags"), tr("Tags, with commas between"),
                                                QLineEdit::Normal, now, &good);
    if (!good) return;
    QStringList tags;
    for (const QString& tag : typed.split(',', Qt::SkipEmptyParts))
        if (!tag.trimmed().isEmpty()) tags << tag.trimmed();
    designs->setOwnTags(path, tags);
}

void ShelfPanel::showMenu(QPoint at) {
    if (chosen().isEmpty()) return;
    QMenu menu(this);
    menu.addAction(tr("Bring onto the cloth (Enter)"), this, [this] { emit sent(chosen()); });
    QAction* replace = menu.addAction(tr("Replace the selected piece by it (Shift+Enter)"), this,
                                      [this] { emit replaceAsked(chosen()); });
    replace->setEnabled(session.selection.ids().size() == 1);
    menu.addAction(tr("Tags…"), this, &ShelfPanel::editTags);
    menu.addSeparator();
    menu.addAction(tr("Read the folders again"), designs, [this] { designs->reload(); });
    for (const QString& folder : designs->folders())
        menu.addAction(tr("Take %1 off the shelf").arg(folder), this, [this, folder] {
            QStringList left = designs->folders();
            left.removeAll(folder);
            setFolders(left);
        });
    menu.exec(cards->viewport()->mapToGlobal(at));
}

} // namespace rapt::app
