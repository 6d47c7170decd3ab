#include "divide/cover.h"

#include <algorithm>
#include <cmath>
#include <glpk.h>
#include <memory>
#include <numeric>

namespace rapt {
namespace {

constexpr double roundingUp = 1e-6;

struct ProblemDeleter {
    void operator()(glp_prob* p) const { glp_delete_prob(p); }
};

/// A 0/1 program with rows ≥ 1, for GLPK.
class Program {
public:
    Program() : problem(glp_create_prob()) {
        glp_term_out(GLP_OFF);
        glp_set_obj_dir(problem.get(), GLP_MIN);
    }

    int addColumn(double cost) {
        const int j = glp_add_cols(problem.get(), 1);
        glp_set_col_kind(problem.get(), j, GLP_BV);
        glp_set_obj_coef(problem.get(), j, cost);
        return j;
    }
    void fix(int column) { glp_set_col_bnds(problem.get(), column, GLP_FX, 1, 1); }
    void cost(int column, double c) { glp_set_obj_coef(problem.get(), column, c); }

    void addRow(const std::vector<std::pair<int, double>>& terms, int type, double bound) {
        const int i = glp_add_rows(problem.get(), 1);
        glp_set_row_bnds(problem.get(), i, type, bound, bound);
        std::vector<int> columns{0};
        std::vector<double> values{0};
        for (const auto& [column, value] : terms) {
            columns.push_back(column);
            values.push_back(value);
        }
        glp_set_mat_row(problem.get(), i, static_cast<int>(terms.size()), columns.data(),
                        values.data());
    }

    struct Answer {
        bool found = false, optimal = false, impossible = false;
        double least = 0; ///< of any solution
        std::vector<bool> chosen;
    };

    Answer solve(double seconds, const std::stop_token& stop) const {
        Answer answer;
        glp_smcp linear;
        glp_init_smcp(&linear);
        linear.msg_lev = GLP_MSG_OFF;
        linear.tm_lim = std::max(1, static_cast<int>(seconds * 1000));
        if (glp_simplex(problem.get(), &linear) != 0) return answer;
        const int state = glp_get_status(problem.get());
        if (state == GLP_NOFEAS || glp_get_prim_stat(problem.get()) == GLP_NOFEAS) {
            answer.impossible = true;
            return answer;
        }
        if (state != GLP_OPT) return answer;
        answer.least = std::ceil(glp_get_obj_val(problem.get()) - roundingUp);
        Watch watch{&stop, answer.least};
        glp_iocp whole;
        glp_init_iocp(&whole);
        whole.msg_lev = GLP_MSG_OFF;
        whole.tm_lim = std::max(1, static_cast<int>(seconds * 1000));
        whole.gmi_cuts = GLP_ON;
        whole.clq_cuts = GLP_ON;
        whole.cb_func = watched;
        whole.cb_info = &watch;
        glp_intopt(problem.get(), &whole);
        const int integer = glp_mip_status(problem.get());
        answer.least = std::max(answer.least, watch.least);
        answer.impossible = integer == GLP_NOFEAS;
        if (integer != GLP_OPT && integer != GLP_FEAS) return answer;
        answer.found = true;
        const double value = glp_mip_obj_val(problem.get());
        if (integer == GLP_OPT) answer.least = std::round(value);
        answer.optimal = answer.least >= value - roundingUp;
        answer.chosen.push_back(false);
        for (int j = 1; j <= glp_get_num_cols(problem.get()); ++j)
            answer.chosen.push_back(glp_mip_col_val(problem.get(), j) > 0.5);
        return answer;
    }

private:
    struct Watch {
        const std::stop_token* stop;
        double least; ///< of the linear relaxation: a solution of this value is the best
    };
    static void watched(glp_tree* tree, void* info) {
        auto* watch = static_cast<Watch*>(info);
        if (watch->stop->stop_requested()) glp_ios_terminate(tree);
        const int best = glp_ios_best_node(tree);
        if (best > 0) {
            const double bound = std::ceil(glp_ios_node_bound(tree, best) - roundingUp);
            if (bound < 1e9) watch->least = std::max(watch->least, bound);
        }
        if (glp_ios_reason(tree) == GLP_IBINGO &&
            glp_mip_obj_val(glp_ios_get_prob(tree)) <= watch->least + roundingUp)
            glp_ios_terminate(tree);
    }

    std::unique_ptr<glp_prob, ProblemDeleter> problem;
};

/// Rows that are held whenever another row is are not asked for.
std::vector<std::size_t> rowsThatMatter(std::size_t size, const std::vector<PartSet>& sets) {
    std::vector<PartSet> holders(size, PartSet(sets.size()));
    for (std::size_t s = 0; s < sets.size(); ++s)
        sets[s].each([&](std::size_t i) { holders[i].add(s); });
    std::vector<std::size_t> rows;
    for (std::size_t i = 0; i < size; ++i) {
        bool implied = false;
        for (std::size_t j = 0; j < size && !implied; ++j)
            implied =
                j != i && holders[j].isIn(holders[i]) && (!(holders[i].isIn(holders[j])) || j < i);
        if (!implied) rows.push_back(i);
    }
    return rows;
}

} // namespace

std::optional<CoverChoice> fewestCovering(std::size_t size, const std::vector<CoverColumn>& columns,
                                          const std::vector<std::vector<std::size_t>>& excluded,
                                          double seconds, std::stop_token stop) {
    std::vector<PartSet> held;
    bool simple = true;
    for (const CoverColumn& c : columns) {
        PartSet all(size);
        for (const PartSet& s : c.stands) all.unite(s);
        held.push_back(std::move(all));
        simple = simple && c.stands.size() == 1;
    }
    PartSet any(size);
    for (const PartSet& s : held) any.unite(s);
    if (any.count() < size) return std::nullopt;

    Program program;
    std::vector<int> column;
    for (const CoverColumn& c : columns) {
        column.push_back(program.addColumn(1));
        if (c.forced) program.fix(column.back());
    }
    for (const std::size_t i : rowsThatMatter(size, held)) {
        std::vector<std::pair<int, double>> row;
        for (std::size_t c = 0; c < columns.size(); ++c)
            if (held[c].has(i)) row.emplace_back(column[c], 1);
        program.addRow(row, GLP_LO, 1);
    }
    for (const auto& choice : excluded) {
        std::vector<std::pair<int, double>> row;
        for (std::size_t c = 0; c < columns.size(); ++c)
            row.emplace_back(column[c],
                             std::binary_search(choice.begin(), choice.end(), c) ? -1 : 1);
        program.addRow(row, GLP_LO, 1 - static_cast<double>(choice.size()));
    }
    const Program::Answer first = program.solve(seconds, stop);
    if (!first.found) return std::nullopt;
    CoverChoice choice;
    for (std::size_t c = 0; c < columns.size(); ++c)
        if (first.chosen[static_cast<std::size_t>(column[c])]) choice.columns.push_back(c);
    choice.leastColumns = static_cast<int>(first.least);
    if (simple) {
        choice.stands.assign(choice.columns.size(), {0});
        choice.hoopings = choice.columns.size();
        choice.leastHoopings = choice.leastColumns;
        return choice;
    }
    // With so many columns, the fewest stands.
    std::vector<std::pair<int, double>> count;
    for (const int c : column) {
        program.cost(c, 0);
        count.emplace_back(c, 1);
    }
    program.addRow(count, GLP_UP, static_cast<double>(choice.columns.size()));
    std::vector<std::vector<int>> stand(columns.size());
    std::vector<std::vector<std::pair<int, double>>> rows(size);
    for (std::size_t c = 0; c < columns.size(); ++c)
        for (const PartSet& s : columns[c].stands) {
            const int j = program.addColumn(1);
            stand[c].push_back(j);
            program.addRow({{column[c], 1}, {j, -1}}, GLP_LO, 0);
            s.each([&](std::size_t i) { rows[i].emplace_back(j, 1); });
        }
    for (const auto& row : rows) program.addRow(row, GLP_LO, 1);
    const Program::Answer second = program.solve(seconds, stop);
    choice.leastHoopings = static_cast<int>(second.least);
    const auto takeStands = [&](auto uses) {
        choice.stands.clear();
        choice.hoopings = 0;
        for (const std::size_t c : choice.columns) {
            auto& used = choice.stands.emplace_back();
            for (std::size_t s = 0; s < columns[c].stands.size(); ++s)
                if (uses(c, s)) used.push_back(s);
            choice.hoopings += used.size();
        }
    };
    if (!second.found) {
        takeStands([](std::size_t, std::size_t) { return true; });
        return choice;
    }
    choice.columns.clear();
    for (std::size_t c = 0; c < columns.size(); ++c)
        if (second.chosen[static_cast<std::size_t>(column[c])]) choice.columns.push_back(c);
    takeStands([&](std::size_t c, std::size_t s) {
        return second.chosen[static_cast<std::size_t>(stand[c][s])];
    });
    return choice;
}

int fewestSets(std::size_t size, const std::vector<PartSet>& sets, double seconds,
               std::stop_token stop) {
    std::vector<CoverColumn> columns;
    for (const PartSet& s : sets) columns.push_back({{s}, false});
    const auto choice = fewestCovering(size, columns, {}, seconds, stop);
    return choice ? choice->leastColumns : 0;
}

} // namespace rapt
