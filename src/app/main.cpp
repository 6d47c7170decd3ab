#include "app/kit/plurals.h"
#include "app/shots/shots.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "base/paths.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <clocale>
#include <cstdio>

namespace {

int shoot(rapt::app::MainWindow& window, const QString& folder, const QString& views) {
    const QStringList names = views.isEmpty()
                                  ? rapt::app::takeShots(window, folder)
                                  : rapt::app::takeViews(window, folder, views.split(','));
    for (const QString& name : names) std::printf("%s\n", qPrintable(folder + "/" + name));
    return names.isEmpty() ? 1 : 0;
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // what libraries write and read has the point
    QApplication::setOrganizationName("RaptThimble");
    QApplication::setApplicationName("rapt-thimble");
    QApplication::setApplicationVersion(RAPT_VERSION);
    QCommandLineParser arguments;
    arguments.setApplicationDescription("Embroidery layouts measured, weighed, divided and "
                                        "registered.");
    arguments.addHelpOption();
    arguments.addVersionOption();
    arguments.addPositionalArgument("JOB", "job or stitch list to open");
    const QCommandLineOption shots("shots", "write a picture of each main view and end", "folder");
    arguments.addOption(shots);
    const QCommandLineOption views("views", "only these: stage, or stage.tab from 0", "1,2,6.3,…");
    arguments.addOption(views);
    const QCommandLineOption size("size", "of the pictures", "WxH", "1280x800");
    arguments.addOption(size);
    arguments.process(app);

    static rapt::app::EnglishPlurals plurals;
    QApplication::installTranslator(&plurals);
    rapt::app::loadFaces();
    rapt::app::applyTheme(rapt::app::Theme::light());
    QApplication::setWindowIcon(
        QIcon(QString::fromStdString(rapt::dataFolder()) + "/icons/rapt-thimble.svg"));
    auto library = rapt::loadLibrary(rapt::dataFolder(), rapt::userDataFolder());
    if (!library) {
        std::fprintf(stderr, "%s\n", library.error().line().c_str());
        return 3;
    }
    rapt::app::MainWindow window(std::move(*library));
    QString file = arguments.positionalArguments().value(0);
    // Kept in lists that outlive where it was started.
    if (!file.isEmpty()) file = QFileInfo(file).absoluteFilePath();
    if (arguments.isSet(shots)) {
        if (!file.isEmpty() && !window.openFile(file)) return 3;
        const QStringList sides = arguments.value(size).split('x');
        window.resize(sides[0].toInt(), sides.value(1).toInt());
        return shoot(window, arguments.value(shots), arguments.value(views));
    }
    window.show();
    if (!file.isEmpty()) window.openFile(file);
    window.offerRecovery(file);
    return QApplication::exec();
}
