#pragma once
// What a job costs and what is asked for it (docs/measures.md, "Price").

#include "estimate/work.h"
#include "library/shop.h"

namespace rapt {

/// Amounts of money for a whole quantity; the parts add up to the total.
struct Cost {
    double blank = 0, thread = 0, bobbin = 0, stabilizer = 0;
    double wastage = 0, labour = 0, machine = 0, overhead = 0;
    double total() const {
        return blank + thread + bobbin + stabilizer + wastage + labour + machine + overhead;
    }
};

/// A cost and what is asked.
struct Price {
    int quantity = 1;
    Cost cost;
    double price = 0;  ///< for all of them
    double margin = 0; ///< (price − cost) ÷ price
    double each() const { return price / quantity; }
};

/// Of so many items. The price follows from the shop's margin, unless the brief names one for each.
Price priceOf(const Work& work, const Brief& brief, int quantity, const Machine& machine,
              const ShopRates& shop);

/// Margin of a price on a cost; a cost of its own where nothing is asked.
double marginOf(double cost, double price);

} // namespace rapt
