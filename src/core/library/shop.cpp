#include "library/shop.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "library/learnt.h"

#include <filesystem>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 1'000'000;
constexpr double mostMoney = 1e9;

/// The rates by their keys, for reading and writing.
struct Rate {
    const char* key;
    double ShopRates::*value;
    double least, most;
};
constexpr Rate rates[] = {
    {"labour_per_hour", &ShopRates::labourPerHour, 0, mostMoney},
    {"machine_per_hour", &ShopRates::machinePerHour, 0, mostMoney},
    {"thread_per_1000_m", &ShopRates::threadPer1000M, 0, mostMoney},
    {"bobbin_per_1000_m", &ShopRates::bobbinPer1000M, 0, mostMoney},
    {"stabilizer_per_m2", &ShopRates::stabilizerPerM2, 0, mostMoney},
    {"needle", &ShopRates::needle, 0, mostMoney},
    {"stitches_per_needle", &ShopRates::stitchesPerNeedle, 100, 1e12},
    {"setup_minutes", &ShopRates::setupMinutes, 0, 100'000},
    {"watching", &ShopRates::watching, 0, 1},
    {"wastage", &ShopRates::wastage, 0, 10},
    {"overhead", &ShopRates::overhead, 0, 10},
    {"margin", &ShopRates::margin, 0, 0.99},
};

Status readInto(const std::string& path, ShopRates& shop) {
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return done();
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const Fields f(*root, "");
        shop.currency = f.text("currency", shop.currency);
        if (shop.currency.empty() || shop.currency.size() > 8)
            throw FieldError{f.path("currency"), "must be a short sign such as EUR"};
        for (const Rate& r : rates) shop.*r.value = f.number(r.key, shop.*r.value, r.least, r.most);
        shop.source = f.text("source", shop.source);
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return done();
}

} // namespace

Result<ShopRates> loadHouseShop(const std::string& dataFolder, const std::string& userFolder) {
    ShopRates shop;
    for (const std::string& folder : {dataFolder, userFolder}) {
        const Status read = readInto(folder + "/shop.json", shop);
        if (!read) return read.error();
    }
    return shop;
}

Result<ShopRates> loadShop(const std::string& dataFolder, const std::string& userFolder) {
    auto shop = loadHouseShop(dataFolder, userFolder);
    if (!shop) return shop;
    const auto learnt = readLearnt(userFolder);
    if (!learnt) return learnt.error();
    applyLearnt(*learnt, *shop);
    return shop;
}

Status saveShop(const ShopRates& typed, const std::string& userFolder) {
    ShopRates shop = typed;
    if (const Status settled = settleLearnt(shop, userFolder); !settled) return settled;
    json root{{"currency", shop.currency}, {"source", shop.source}};
    for (const Rate& r : rates) root[r.key] = shop.*r.value;
    std::error_code ec;
    std::filesystem::create_directories(userFolder, ec);
    return writeWholeFile(userFolder + "/shop.json", root.dump(1) + "\n");
}

} // namespace rapt
