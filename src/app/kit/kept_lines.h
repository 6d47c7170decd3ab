#pragma once
// Lists that are worked out anew and stay as they are where nothing changed.

#include <QColor>
#include <QListWidget>

#include <optional>
#include <vector>

namespace rapt::app {

struct ListLine {
    QString text;
    QVariant data{};               ///< Qt::UserRole; tells lines apart, by default the place does
    std::optional<bool> checked{}; ///< of lines that can be ticked
    QColor swatch{};               ///< shown before the text, where it is valid
};

/// Makes a list show these lines without a signal: lines that stay keep their place, what is chosen
/// and scrolled to; the others go and come.
void showLines(QListWidget& list, const std::vector<ListLine>& lines);

} // namespace rapt::app
