#include "library/learnt.h"

#include "base/file_io.h"
#include "library/library.h"
#include "library/records.h"
#include "library/shop.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 1'000'000;

std::string idOf(const std::string& kind, const std::string& subject) {
    return kind + ":" + subject;
}

LearntValue readValue(const Fields& f) {
    LearntValue v;
    v.kind = f.text("kind");
    v.subject = f.text("subject", "");
    v.value = f.number("value", 0, 1e6);
    v.before = f.number("before", 0, 1e6);
    v.cases = f.integer("cases", 0, 0, 100'000'000);
    v.low = f.number("low", v.value, 0, 1e6);
    v.high = f.number("high", v.value, 0, 1e6);
    v.date = f.text("date", "");
    v.refused = f.flag("refused", false);
    return v;
}

/// A learnt value that was left alone gives way to what it stands for.
Status settle(double& number, const char* kind, const std::string& subject,
              const std::vector<LearntValue>& values, const std::string& userFolder) {
    const LearntValue* v = findLearnt(values, kind, subject);
    if (!v || v->refused) return done();
    if (std::abs(number - v->value) > 1e-9) return dropLearnt(kind, subject, userFolder);
    number = v->before;
    return done();
}

void scaleTimes(Machine& m, double factor) {
    m.timeFactor = factor;
    for (double* s : {&m.threadChangeSeconds, &m.coneChangeSeconds, &m.trimSeconds,
                      &m.hoopingSeconds, &m.positionSeconds, &m.registrationSeconds})
        *s *= factor;
}

} // namespace

Result<std::vector<LearntValue>> readLearnt(const std::string& userFolder) {
    const std::string path = userFolder + "/learnt.json";
    std::vector<LearntValue> values;
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return values;
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const json& list = Fields(*root, "").array("learnt");
        for (std::size_t i = 0; i < list.size(); ++i)
            values.push_back(readValue(Fields(list[i], fmt::format("learnt[{}]", i))));
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return values;
}

Status saveLearnt(const LearntValue& v, const std::string& userFolder) {
    return saveRecord(userFolder, "learnt",
                      {{"id", idOf(v.kind, v.subject)},
                       {"kind", v.kind},
                       {"subject", v.subject},
                       {"value", v.value},
                       {"before", v.before},
                       {"cases", v.cases},
                       {"low", v.low},
                       {"high", v.high},
                       {"date", v.date},
                       {"refused", v.refused}});
}

Status dropLearnt(const std::string& kind, const std::string& subject,
                  const std::string& userFolder) {
    return dropRecord(userFolder, "learnt", idOf(kind, subject));
}

const LearntValue* findLearnt(const std::vector<LearntValue>& values, const std::string& kind,
                              const std::string& subject) {
    const auto it = std::find_if(values.begin(), values.end(), [&](const LearntValue& v) {
        return v.kind == kind && v.subject == subject;
    });
    return it == values.end() ? nullptr : &*it;
}

void applyLearnt(const std::vector<LearntValue>& values, Library& library) {
    for (const LearntValue& v : values) {
        if (v.refused) continue;
        for (Fabric& f : library.fabrics) {
            if (f.id != v.subject) continue;
            if (v.kind == "layers") f.maxLayers = v.value;
            if (v.kind == "hits") f.maxHits = v.value;
            if (v.kind == "draw-in") f.drawInMm = v.value;
            if (v.kind == "layers" || v.kind == "hits") f.stitchOuts = v.cases;
        }
        for (Machine& m : library.machines)
            if (v.kind == "time" && m.id == v.subject && v.value > 0) scaleTimes(m, v.value);
        if (v.kind == "placing") library.practice.learntMm[v.subject] = v.value;
    }
}

void applyLearnt(const std::vector<LearntValue>& values, ShopRates& shop) {
    const LearntValue* v = findLearnt(values, "setup", "");
    if (v && !v->refused) shop.setupMinutes = v->value;
}

Status settleLearnt(Fabric& fabric, const std::string& userFolder) {
    const auto values = readLearnt(userFolder);
    if (!values) return values.error();
    Status settled = settle(fabric.maxLayers, "layers", fabric.id, *values, userFolder);
    if (settled) settled = settle(fabric.maxHits, "hits", fabric.id, *values, userFolder);
    return settled;
}

Status settleLearnt(ShopRates& shop, const std::string& userFolder) {
    const auto values = readLearnt(userFolder);
    if (!values) return values.error();
    return settle(shop.setupMinutes, "setup", "", *values, userFolder);
}

} // namespace rapt
