#include "app/theme/theme.h"

#include "base/paths.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QStyleFactory>
#include <QSvgRenderer>

namespace rapt::app {
namespace {

Theme current = Theme::light();

QString dataFile(const QString& name) { return QString::fromStdString(dataFolder()) + "/" + name; }

QPalette paletteOf(const Theme& t) {
    QPalette p;
    p.setColor(QPalette::Window, t.panel);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::Base, t.dark ? t.paper : QColor(Qt::white));
    p.setColor(QPalette::AlternateBase, t.paper);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::PlaceholderText, t.ink2);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::Highlight, t.tide);
    p.setColor(QPalette::HighlightedText, t.dark ? t.paper : QColor(Qt::white));
    p.setColor(QPalette::ToolTipBase, t.paper);
    p.setColor(QPalette::ToolTipText, t.ink);
    p.setColor(QPalette::Mid, t.rule);
    p.setColor(QPalette::Link, t.tide);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, t.ink2);
    return p;
}

/// Style sheet with @names of theme colours.
QString sheetOf(const Theme& t) {
    QString sheet = R"(
QMainWindow, QMenuBar { background: @panel; color: @ink; }
QMenuBar { border-bottom: 1px solid @rule; padding: 3px 6px; }
QMenuBar::item { padding: 5px 9px; border-radius: 5px; background: transparent; }
QMenuBar::item:selected { background: @tideSoft; }
QMenu { background: @panel; color: @ink; border: 1px solid @rule; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 24px; border-radius: 4px; }
QMenu::item:selected { background: @tideSoft; color: @ink; }
QMenu::item:disabled { color: @ink2; }
QMenu::separator { height: 1px; background: @rule; margin: 4px 8px; }
QLineEdit, QComboBox, QAbstractSpinBox, QPlainTextEdit, QDateEdit {
  background: @field; color: @ink; border: 1px solid @rule; border-radius: 6px; padding: 3px 7px;
  min-height: 20px; selection-background-color: @tide; }
QLineEdit:focus, QComboBox:focus, QAbstractSpinBox:focus, QPlainTextEdit:focus, QDateEdit:focus {
  border: 1px solid @tide; }
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { width: 0px; border: none; }
QLineEdit[wrong="true"] { border: 1px solid @stop; }
QComboBox::drop-down { border: none; width: 22px; }
QComboBox::down-arrow { image: url(@down); width: 12px; height: 12px; }
QComboBox QAbstractItemView { background: @panel; color: @ink; border: 1px solid @rule; }
QPushButton { background: @field; color: @ink; border: 1px solid @rule; border-radius: 6px;
  padding: 5px 12px; min-height: 18px; }
QPushButton:hover { border-color: @tide; }
QPushButton:focus { border: 1px solid @tide; }
QPushButton:pressed { background: @tideSoft; }
QPushButton:checked { background: @tideSoft; border: 1px solid @tide; font-weight: bold; }
QPushButton:disabled { color: @ink2; }
QFrame[card="true"] { background: @paper; border: 1px solid @rule; border-radius: 6px; }
QFrame[card="true"] QLabel { border: none; }
QPushButton[main="true"] { background: @tide; color: @onTide; border: 1px solid @tide;
  font-weight: bold; }
QPushButton[main="true"]:disabled { background: @rule; color: @ink2; border: 1px solid @rule; }
QPushButton[link="true"] { background: transparent; border: none; color: @tide; font-weight: bold;
  padding: 0px; text-align: left; }
QPushButton[link="true"]:focus { text-decoration: underline; }
QToolButton { background: transparent; border: 1px solid transparent; border-radius: 6px;
  padding: 4px; color: @ink; }
QToolButton:hover { background: @tideSoft; }
QToolButton[tab="true"] { color: @ink2; border: none; border-bottom: 2px solid @rule;
  border-radius: 0px; padding: 4px 0px; font-size: 12px; }
QToolButton[tab="true"]:checked { color: @ink; border-bottom: 2px solid @tide; font-weight: bold; }
QToolButton[tab="true"]:focus { background: @tideSoft; }
QToolButton[subtab="true"] { color: @ink2; border: 1px solid @rule; border-radius: 8px;
    padding: 2px 0px; background: transparent; font-size: 12px; }
QToolButton[subtab="true"]:checked { color: @ink; background: @tideSoft; border-color: @tide; }
QToolButton:focus { border: 1px solid @tide; }
QCheckBox { color: @ink; spacing: 7px; }
QTableView[plain="true"], QListView[plain="true"] { background: transparent; color: @ink; border: none;
    selection-background-color: @tideSoft; selection-color: @ink; }
QTableWidget, QListWidget, QTreeView { background: @field; color: @ink; border: 1px solid @rule;
  border-radius: 6px; gridline-color: @rule; alternate-background-color: @paper; }
QTableView::item, QListWidget::item, QTreeView::item { padding: 3px 6px; border: 0px; }
QTableView::item:selected, QListWidget::item:selected, QTreeView::item:selected { background: @tideSoft; color: @ink; }
QHeaderView::section { background: @panel; color: @ink2; border: none;
  border-bottom: 1px solid @rule; padding: 4px 6px; }
QScrollArea { border: none; background: @panel; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: @rule; border-radius: 4px; min-height: 28px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle:horizontal { background: @rule; border-radius: 4px; min-width: 28px; }
QToolTip { background: @panel; color: @ink; border: 1px solid @rule; padding: 4px; }
QLabel[quiet="true"] { color: @ink2; }
QLabel[wrong="true"] { color: @stop; }
QLabel[head="true"] { font-weight: bold; }
)";
    const std::pair<const char*, QColor> names[] = {
        {"@tideSoft", t.tideSoft},
        {"@tide", t.tide},
        {"@onTide", t.dark ? t.paper : Qt::white},
        {"@panel", t.panel},
        {"@paper", t.paper},
        {"@rule", t.rule},
        {"@ink2", t.ink2},
        {"@ink", t.ink},
        {"@stop", t.stop},
        {"@field", t.dark ? t.paper : QColor(Qt::white)}};
    for (const auto& [name, color] : names) sheet.replace(name, color.name());
    return sheet.replace("@down", dataFile("icons/down.svg"));
}

} // namespace

Theme Theme::light() {
    Theme t;
    t.paper = "#f5f2eb";
    t.panel = "#fbf9f4";
    t.rule = "#d9d3c6";
    t.ink = "#1d2a33";
    t.ink2 = "#5b6a72";
    t.tide = "#0f6e78";
    t.kite = "#d9822b";
    t.stop = "#b3261e";
    t.caution = "#946000";
    t.note = "#2f5d8a";
    t.tideSoft = "#e2efed";
    return t;
}

Theme Theme::darkOne() {
    Theme t;
    t.dark = true;
    t.paper = "#14191c";
    t.panel = "#1b2226";
    t.rule = "#323b40";
    t.ink = "#e7e3d8";
    t.ink2 = "#9aa6a8";
    t.tide = "#4fb7c1";
    t.kite = "#f0a04b";
    t.stop = "#ff8a7d";
    t.caution = "#e8b44f";
    t.note = "#8fb8e0";
    t.tideSoft = "#20373b";
    return t;
}

const Theme& theme() { return current; }

void applyTheme(const Theme& t) {
    current = t;
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QApplication::setPalette(paletteOf(t));
    QApplication::setFont(faceOf(13));
    qApp->setStyleSheet(sheetOf(t));
}

void loadFaces() {
    for (const char* name : {"faces/Lato-Regular.ttf", "faces/Lato-Bold.ttf"})
        QFontDatabase::addApplicationFont(dataFile(name));
}

QFont faceOf(int pixelSize, bool bold) {
    QFont font("Lato");
    font.setPixelSize(pixelSize);
    font.setBold(bold);
    return font;
}

QIcon icon(const QString& name) {
    QFile file(dataFile("icons/" + name + ".svg"));
    if (!file.open(QIODevice::ReadOnly)) return {};
    QByteArray svg = file.readAll();
    svg.replace("currentColor", current.ink.name().toLatin1());
    QSvgRenderer renderer(svg);
    QIcon result;
    for (const int size : {18, 36}) {
        QPixmap pixmap(size, size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        renderer.render(&painter);
        result.addPixmap(pixmap);
    }
    return result;
}

} // namespace rapt::app
