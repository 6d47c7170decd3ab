#pragma once
// The row of tabs over a stage's pages.

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QToolButton>

namespace rapt::app {

/// Adds a tab after the others; its id in the group is its place from 0, its object name `name` and
/// the id.
inline void addTab(QButtonGroup& tabs, QHBoxLayout& line, const QString& title,
                   const QString& name) {
    const int id = static_cast<int>(tabs.buttons().size());
    auto* tab = new QToolButton;
    tab->setText(title);
    tab->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    tab->setCheckable(true);
    tab->setProperty("tab", true);
    tab->setObjectName(name + QString::number(id));
    tabs.addButton(tab, id);
    line.addWidget(tab);
}

} // namespace rapt::app
