#include "app/panels/questions.h"

#include <QFileDialog>

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

} // namespace rapt::app
