#include "registry.h"

#include "support.h"

#include <filesystem>
#include <map>

namespace rapt::test {
namespace {

std::map<std::string, Registered::Make>& classes() {
    static std::map<std::string, Registered::Make> all;
    return all;
}

} // namespace

Registered::Registered(const char* file, Make make) {
    classes().emplace(std::filesystem::path(file).stem().string(), make);
}

int runTests(int argc, char** argv) {
    std::vector<char*> arguments(argv, argv + argc);
    std::string wanted;
    if (argc > 1 && argv[1][0] != '-') {
        wanted = argv[1];
        arguments.erase(arguments.begin() + 1);
        if (!classes().contains(wanted)) qFatal("there is no test class %s", argv[1]);
    }
    int failed = 0;
    for (const auto& [name, make] : classes())
        if (wanted.empty() || name == wanted)
            failed +=
                QTest::qExec(make().get(), static_cast<int>(arguments.size()), arguments.data());
    return failed;
}

bool nearOrFail(double actual, double expected, double tolerance, const char* what,
                const char* file, int line) {
    if (std::abs(actual - expected) <= tolerance) return true;
    const QString text = QString("%1 is %2, expected %3 within %4")
                             .arg(what)
                             .arg(actual, 0, 'g', 12)
                             .arg(expected, 0, 'g', 12)
                             .arg(tolerance);
    QTest::qFail(qPrintable(text), file, line);
    return false;
}

} // namespace rapt::test
