#include "library/machine.h"

#include "library/records.h"

namespace rapt {

std::string lettersOf(const std::string& pattern) {
    std::string letters;
    for (std::size_t i = 0; i < pattern.size(); ++i) {
        const bool range = i + 2 < pattern.size() && pattern[i + 1] == '-';
        const char last = range ? pattern[i + 2] : pattern[i];
        for (int c = pattern[i]; c <= last; ++c) letters += static_cast<char>(c);
        if (range) i += 2;
    }
    return letters;
}

namespace {

StickRules readStick(const Fields& f) {
    StickRules rules;
    rules.nameLength = f.integer("name_length", rules.nameLength, 4, 200);
    rules.files = f.integer("files", rules.files, 1, 100'000);
    rules.folders = f.integer("folders", rules.folders, 1, 100'000);
    if (!f.has("letters")) return rules;
    rules.letters = lettersOf(f.text("letters"));
    for (const char c : rules.letters)
        if (c <= ' ' || c == '/' || c == '\\' || c == '.' || c > '~')
            throw FieldError{f.path("letters"),
                             "may hold printable characters but no slash or dot"};
    if (rules.letters.find_first_of("0123456789") == std::string::npos)
        throw FieldError{f.path("letters"), "must hold figures, as names begin with a number"};
    return rules;
}

} // namespace

Machine readMachine(const Fields& f) {
    Machine m;
    m.id = f.text("id");
    m.name = f.text("name", m.id);
    m.needles = f.integer("needles", m.needles, 1, 64);
    m.topSpeed = f.integer("top_speed_spm", m.topSpeed, 50, 5000);
    m.fullSpeedUpToMm = f.positive("full_speed_up_to_mm", m.fullSpeedUpToMm);
    m.threadChangeSeconds = f.number("thread_change_s", m.threadChangeSeconds, 0, 3600);
    m.coneChangeSeconds = f.number("cone_change_s", m.coneChangeSeconds, 0, 3600);
    m.trimSeconds = f.number("trim_s", m.trimSeconds, 0, 3600);
    m.hoopingSeconds = f.number("hooping_s", m.hoopingSeconds, 0, 86400);
    m.positionSeconds = f.number("position_s", m.positionSeconds, 0, 86400);
    m.registrationSeconds = f.number("registration_s", m.registrationSeconds, 0, 86400);
    if (f.has("field")) {
        m.fieldWidthMm = f.child("field").number("width_mm", 1, 5000);
        m.fieldHeightMm = f.child("field").number("height_mm", 1, 5000);
    }
    for (const nlohmann::json& frame : f.array("frames")) {
        if (!frame.is_string()) throw FieldError{f.path("frames"), "must hold ids of frames"};
        m.frames.push_back(frame.get<std::string>());
    }
    if (f.has("memory")) {
        m.places = f.child("memory").integer("places", m.places, 1, 1'000'000);
        m.memoryBytes = static_cast<std::int64_t>(
            f.child("memory").number("bytes", static_cast<double>(m.memoryBytes), 1000, 1e12));
    }
    if (f.has("stick")) m.stick = readStick(f.child("stick"));
    m.canTurn = f.flag("can_turn", m.canTurn);
    if (f.has("panel")) {
        m.panelStepMm = f.child("panel").number("step_mm", m.panelStepMm, 0.01, 10);
        m.panelTurnDeg = f.child("panel").number("turn_deg", m.panelTurnDeg, 0.01, 90);
    }
    m.bobbinM = f.positive("bobbin_m", m.bobbinM);
    m.coneM = f.positive("cone_m", m.coneM);
    return m;
}

} // namespace rapt
