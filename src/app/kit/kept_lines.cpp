#include "app/kit/kept_lines.h"

#include <QPixmap>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

constexpr int swatchRole = Qt::UserRole + 50;

void fill(QListWidgetItem& item, const ListLine& line) {
    if (item.text() != line.text) item.setText(line.text);
    const auto state = line.checked.value_or(false) ? Qt::Checked : Qt::Unchecked;
    if (line.checked && item.data(Qt::CheckStateRole) != QVariant(static_cast<int>(state)))
        item.setCheckState(state);
    if (!line.swatch.isValid() || item.data(swatchRole).value<QColor>() == line.swatch) return;
    QPixmap swatch(14, 14);
    swatch.fill(line.swatch);
    item.setIcon(swatch);
    item.setData(swatchRole, line.swatch);
}

} // namespace

void showLines(QListWidget& list, const std::vector<ListLine>& lines) {
    const QSignalBlocker quiet(&list);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const int row = static_cast<int>(i);
        const QVariant key = lines[i].data.isValid() ? lines[i].data : QVariant(row);
        int there = row;
        while (there < list.count() && list.item(there)->data(Qt::UserRole) != key) ++there;
        if (there < list.count()) {
            for (int n = row; n < there; ++n) delete list.takeItem(row);
        } else {
            auto* item = new QListWidgetItem;
            item->setData(Qt::UserRole, key);
            list.insertItem(row, item);
        }
        fill(*list.item(row), lines[i]);
    }
    while (list.count() > static_cast<int>(lines.size())) delete list.takeItem(list.count() - 1);
}

} // namespace rapt::app
