#pragma once
// What the ledger's charts show: numbers that can be read as a table as well.

#include "library/library.h"
#include "record/stitch_out.h"

namespace rapt {

enum class ChartKind {
    joins,     ///< measured gaps by method
    breaks,    ///< share of stitch-outs with trouble against their load, of one fabric
    estimates, ///< time taken against time estimated
    thread,    ///< metres by month
    spoilt,    ///< by cause
};

/// A row of the table: a name and one or two numbers.
struct ChartRow {
    std::string name;
    double value = 0;
    double second = 0; ///< of points: y; of bars: how many cases they are from
};

struct ChartData {
    std::string title, xTitle, yTitle;
    std::vector<std::string> heads; ///< of the table's columns
    std::vector<ChartRow> rows{};
    double most = 0;              ///< end of the bars' axis; 0: by the bars
    bool wide = false;            ///< names want room: the bars lie
    bool points = false;          ///< rows are places (value, second) beside y = x; else bars
    std::optional<double> line{}; ///< a limit among the bars: 0 in the middle of the first
    std::string lineName{};
};

/// `fabric` only matters for `breaks`.
ChartData chartOf(ChartKind kind, const std::vector<StitchOut>& records, const Fabric& fabric);

/// Its table as CSV.
std::string chartCsv(const ChartData& data);

} // namespace rapt
