#pragma once
// What a shop pays and asks: data/shop.json and the user's own.

#include "base/result.h"

#include <string>

namespace rapt {

/// All amounts in the shop's currency. Starting values until the shop types its own.
struct ShopRates {
    std::string currency = "EUR";
    double labourPerHour = 24;
    double machinePerHour = 6;
    double threadPer1000M = 5;
    double bobbinPer1000M = 3;
    double stabilizerPerM2 = 2;
    double needle = 0.9;            ///< each
    double stitchesPerNeedle = 1e5; ///< that one lasts
    double setupMinutes = 10;       ///< of a person, once for a job
    double watching = 0.1;          ///< share of the machine's time that a person watches
    double wastage = 0.05;          ///< of the materials
    double overhead = 0.15;         ///< on everything
    double margin = 0.35;           ///< (price − cost) ÷ price that the shop wants
    std::string source = "starting values";
    friend bool operator==(const ShopRates&, const ShopRates&) = default;
};

/// The shop's rates: the user's file over those that ship; what is not there keeps its starting
/// value; with what was learnt and accepted. Fails (badInput) with file and key.
Result<ShopRates> loadShop(const std::string& dataFolder, const std::string& userFolder);

/// The same without what was learnt (library/learnt.h).
Result<ShopRates> loadHouseShop(const std::string& dataFolder, const std::string& userFolder);

/// Writes the user's shop.json whole.
Status saveShop(const ShopRates& rates, const std::string& userFolder);

} // namespace rapt
