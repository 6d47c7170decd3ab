#include "app/stitchout/steps_list.h"

#include "app/kit/readout_parts.h"

#include <QApplication>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

/// Room for the words beside a box, pixels.
constexpr int stepWidth = 290;

/// Broken into lines, as the words of a box are not by themselves.
QString inLines(const QString& words, int width) {
    const QFontMetrics metrics(QApplication::font());
    QString text, line;
    for (const QString& word : words.split(' ')) {
        const QString longer = line.isEmpty() ? word : line + ' ' + word;
        if (!line.isEmpty() && metrics.horizontalAdvance(longer) > width) {
            text += line + '\n';
            line = word;
        } else {
            line = longer;
        }
    }
    return text + line;
}

} // namespace

StepsList::StepsList() : lines(new QVBoxLayout), left(quietLabel({})) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    column->addWidget(headLabel(tr("Before the needle moves")));
    lines->setSpacing(2);
    column->addLayout(lines);
    left->setObjectName("openSteps");
    left->setWordWrap(true);
    column->addWidget(left);
}

void StepsList::rebuild(const std::vector<RunStep>& wanted) {
    while (QLayoutItem* item = lines->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    boxes.clear();
    for (const RunStep& s : wanted) {
        auto* box = new QCheckBox(inLines(QString::fromStdString(s.words), stepWidth));
        box->setObjectName("step-" + QString::fromStdString(s.id));
        box->setToolTip(QString::fromStdString(s.caution));
        connect(box, &QCheckBox::clicked, this,
                [this, id = s.id](bool on) { emit confirmed(id, on); });
        lines->addWidget(box);
        boxes << box;
        if (s.caution.empty()) continue;
        QLabel* caution = quietLabel("⚠ " + QString::fromStdString(s.caution));
        caution->setContentsMargins(24, 0, 0, 2);
        lines->addWidget(caution);
    }
}

void StepsList::show(const std::vector<RunStep>& wanted, const std::set<std::string>& done,
                     bool startsAnyway) {
    QString key;
    for (const RunStep& s : wanted) key += QString::fromStdString(s.id + s.words) + "\n";
    if (std::exchange(shown, key) != key) rebuild(wanted);
    for (qsizetype i = 0; i < boxes.size(); ++i) {
        const QSignalBlocker quiet(boxes[i]);
        boxes[i]->setChecked(done.contains(wanted[static_cast<std::size_t>(i)].id));
    }
    const QStringList still = open();
    left->setText(still.isEmpty() ? tr("All confirmed.")
                  : startsAnyway  ? tr("Open: %1.").arg(still.join(", "))
                                  : tr("%1 of %2 are open.").arg(still.size()).arg(boxes.size()));
}

QStringList StepsList::open() const {
    QStringList names;
    for (const QCheckBox* box : boxes)
        if (!box->isChecked()) names << box->objectName().mid(5).replace('-', ' ');
    return names;
}

} // namespace rapt::app
