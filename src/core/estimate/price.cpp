#include "estimate/price.h"

namespace rapt {
namespace {

/// Seconds of a person for one item: what hands do, and the share of the machine's time that is
/// watched. On one needle every change of thread is made by hand.
double handSeconds(const Work& work, const Machine& machine, const ShopRates& shop) {
    const TimeParts& s = work.seconds;
    const double byHand = s.clampings + s.registrations;
    const double cones = machine.needles == 1
                             ? s.threadChanges
                             : static_cast<double>(work.coneChanges) * machine.coneChangeSeconds;
    return byHand + cones + shop.watching * (s.total() - byHand - cones);
}

} // namespace

double marginOf(double cost, double price) { return price > 0 ? (price - cost) / price : 0; }

Price priceOf(const Work& work, const Brief& brief, int quantity, const Machine& machine,
              const ShopRates& shop) {
    Price p;
    p.quantity = std::max(1, quantity);
    const double n = p.quantity;
    double topMm = 0;
    for (const ThreadNeed& t : work.threads) topMm += t.topMm;
    Cost& c = p.cost;
    c.blank = brief.blankCost * n;
    c.thread = topMm * n / 1e6 * shop.threadPer1000M;
    c.bobbin = work.bobbinMm * n / 1e6 * shop.bobbinPer1000M;
    c.stabilizer = work.stabilizerCm2 * n / 1e4 * shop.stabilizerPerM2;
    c.wastage = (c.blank + c.thread + c.bobbin + c.stabilizer) * shop.wastage;
    c.labour =
        (shop.setupMinutes * 60 + n * handSeconds(work, machine, shop)) / 3600 * shop.labourPerHour;
    c.machine = n * work.seconds.total() / 3600 * shop.machinePerHour +
                n * static_cast<double>(work.stitches) / shop.stitchesPerNeedle * shop.needle;
    c.overhead = c.total() * shop.overhead;
    p.price = brief.price > 0 ? brief.price * n : c.total() / (1 - shop.margin);
    p.margin = marginOf(c.total(), p.price);
    return p;
}

} // namespace rapt
