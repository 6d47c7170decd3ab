#include "cli/run.h"

#include "base/paths.h"

#include <algorithm>
#include <cstdio>
#include <fmt/format.h>

namespace rapt::cli {
namespace {

/// Numbers are typed with a decimal comma too, whatever the locale.
std::string withPoint(std::string text) {
    if (std::count(text.begin(), text.end(), ',') == 1 && text.find('.') == std::string::npos)
        std::replace(text.begin(), text.end(), ',', '.');
    return text;
}

void takeDecimalCommas(CLI::App& app) {
    for (CLI::Option* option : app.get_options())
        if (option->get_type_name().starts_with("FLOAT"))
            option->transform([](const std::string& text) { return withPoint(text); }, "");
    for (CLI::App* verb : app.get_subcommands([](CLI::App*) { return true; }))
        takeDecimalCommas(*verb);
}

} // namespace

Run::Run() : app("Rapt Thimble: embroidery layouts measured, weighed, divided and registered.") {
    app.name("rapt");
    app.require_subcommand(1);
    app.set_version_flag("--version", "rapt " RAPT_VERSION);
}

CLI::App* Run::addGroup(const std::string& name, const std::string& help) {
    CLI::App* group = app.add_subcommand(name, help);
    group->require_subcommand(1);
    return group;
}

CLI::App* Run::addVerb(const std::string& name, const std::string& help, Action action,
                       CLI::App* group) {
    CLI::App* verb = (group ? group : &app)->add_subcommand(name, help);
    verb->add_flag("--json", json, "print one JSON object");
    verb->callback([this, action = std::move(action)] { chosen = action; });
    return verb;
}

int Run::usageError(const std::string& text) const {
    fmt::print(stderr, "rapt: {}\n", text);
    return wrongUsage;
}

int Run::main(int argc, char** argv) {
    // The first word that is no option is the verb; say plainly when there is none of that name.
    if (argc > 1 && argv[1][0] != '-') {
        const auto verbs = app.get_subcommands([](CLI::App*) { return true; });
        const std::string wanted = argv[1];
        const bool known = std::any_of(verbs.begin(), verbs.end(),
                                       [&](const CLI::App* v) { return v->get_name() == wanted; });
        if (!known) {
            std::string names;
            for (const CLI::App* v : verbs) names += " " + v->get_name();
            return usageError(
                fmt::format("the verb '{}' does not exist; there are:{}", wanted, names));
        }
    }
    takeDecimalCommas(app);
    try {
        app.parse(argc, argv);
    } catch (const CLI::Success& e) {
        return app.exit(e); // --help and --version
    } catch (const CLI::ParseError& e) {
        return usageError(fmt::format("{}; see rapt --help", e.what()));
    }
    return carryOut();
}

int Run::carryOut() const {
    const Outcome outcome = chosen();
    if (!outcome) {
        fmt::print(stderr, "{}\n", outcome.error().line());
        return outcome.error().fault == Fault::badInput ? unreadable : impossible;
    }
    std::string text = outcome->text;
    if (json) {
        using nlohmann::ordered_json;
        text = outcome->json.dump(-1, ' ', false, ordered_json::error_handler_t::replace) + "\n";
    }
    std::fwrite(text.data(), 1, text.size(), stdout);
    std::fflush(stdout);
    return outcome->openStop ? stopOpen : ok;
}

Result<Library> library() {
    const std::string folder = dataFolder();
    if (folder.empty())
        return badInput("the folder with hoops.json and fabrics.json is not found; set RAPT_DATA");
    return loadLibrary(folder, userDataFolder());
}

} // namespace rapt::cli
