#include "app/kit/questions.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>

namespace rapt::app {
namespace {

QString answerOf(QFileDialog& dialog) {
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    return dialog.exec() == QDialog::Accepted ? dialog.selectedFiles().value(0) : QString();
}

} // namespace

QString askOpenName(QWidget* over, const QString& title, const QString& filter) {
    QFileDialog dialog(over, title, {}, filter);
    dialog.setFileMode(QFileDialog::ExistingFile);
    return answerOf(dialog);
}

QString askSaveName(QWidget* over, const QString& title, const QString& suggestion,
                    const QString& filter) {
    QFileDialog dialog(over, title, suggestion, filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setDefaultSuffix(suggestion.section('.', -1));
    return answerOf(dialog);
}

QString askFolder(QWidget* over, const QString& title) {
    QFileDialog dialog(over, title);
    dialog.setFileMode(QFileDialog::Directory);
    dialog.setOption(QFileDialog::ShowDirsOnly);
    return answerOf(dialog);
}

bool mayReplace(QWidget* over, const QString& folder, const QStringList& names) {
    QStringList there;
    for (const QString& name : names)
        if (QFileInfo::exists(QDir(folder).filePath(name))) there << name;
    if (there.isEmpty()) return true;
    constexpr int shown = 4;
    QString words = there.mid(0, shown).join(", ");
    if (there.size() > shown)
        words = QObject::tr("%1 and %2 more").arg(words).arg(there.size() - shown);
    QMessageBox box(QMessageBox::Question, QObject::tr("Replace files?"),
                    QObject::tr("There already: %1.").arg(words), QMessageBox::Cancel, over);
    box.setInformativeText(QObject::tr("What is in them is lost."));
    auto* replace = box.addButton(QObject::tr("Replace them"), QMessageBox::DestructiveRole);
    replace->setObjectName("replaceFiles");
    box.exec();
    return box.clickedButton() == replace;
}

} // namespace rapt::app
