// rapt-machine: the simulated machine as a process of its own.

#include "machine/machine_server.h"

#include "base/paths.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <cstdio>

namespace {

int fail(const QString& words) {
    std::fprintf(stderr, "rapt-machine: %s\n", qPrintable(words));
    return 2;
}

} // namespace

int main(int argc, char** argv) {
    QCoreApplication app(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // what libraries write and read has the point
    QCommandLineParser arguments;
    arguments.setApplicationDescription("The simulated machine behind a local socket");
    arguments.addHelpOption();
    arguments.addOptions({{"machine", "id in machines.json", "id", "six-needle"},
                          {"socket", "where it listens", "path"},
                          {"faults", "none, some or many", "how many", "none"},
                          {"seed", "of what goes wrong", "number", "1"}});
    arguments.process(app);
    auto library = rapt::loadHouseLibrary(rapt::dataFolder(), rapt::userDataFolder());
    if (!library) return fail(QString::fromStdString(library.error().line()));
    const auto machine = library->machine(arguments.value("machine").toStdString());
    if (!machine) return fail(QString::fromStdString(machine.error().line()));
    rapt::standins::MachineSetup setup{*machine, *library};
    if (!rapt::standins::parseFaults(arguments.value("faults").toStdString(), setup.faults))
        return fail("--faults is none, some or many");
    setup.seed = arguments.value("seed").toULongLong();
    const QString socket = arguments.isSet("socket")
                               ? arguments.value("socket")
                               : QString::fromStdString(rapt::machineSocket(machine->id));
    rapt::machine::MachineServer server(std::move(setup));
    if (!server.listen(socket)) return fail(socket + ": " + server.error());
    std::printf("%s\n", qPrintable(socket));
    std::fflush(stdout);
    return QCoreApplication::exec();
}
