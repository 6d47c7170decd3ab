#pragma once
// What the job costs, by its parts, and what is asked for it.

#include "app/kit/page.h"
#include "app/kit/rows_table.h"
#include "app/ledger/price_curve.h"
#include "estimate/price.h"
#include "estimate/savings.h"

namespace rapt::app {

class EstimatePage : public Page {
    Q_OBJECT
public:
    explicit EstimatePage(Session& session);
    ~EstimatePage() override;
    void refresh() override;
    /// Reads the shop's rates anew.
    void reloadRates();
    /// What is shown; nothing while it is worked out.
    const std::optional<Price>& price() const { return shown; }

private:
    void take(double Brief::*part, double value, const QString& name);
    void buildMiddle();
    void buildSavings();
    void say(const QString& text);
    void saveQuote();
    void lookForSavings();
    void showSavings();
    void showChosenSaving();
    void takeSaving();
    void fill(const Handing& handing);
    void fillTakes(const Handing& handing, int items);

    ShopRates shop;
    RowsTable *parts, *steps, *takes, *savings;
    PriceCurve* curve;
    NumberEdit *quantity, *blank, *each;
    QLabel *words, *savingWords;
    QPushButton* useSaving;
    std::optional<Price> shown;
    std::vector<Saving> found;
    Job foundFor;               ///< the job that they are of
    std::stop_source searching; ///< of the last search
};

/// The shop's rates, typed and kept.
class RatesPage : public Page {
    Q_OBJECT
public:
    /// Beside them, what they make of the open job.
    RatesPage(Session& session, EstimatePage& estimate);
    void refresh() override;
    /// Reads them anew.
    void reload();

signals:
    void changed();

private:
    void add(const QString& label, const char* name, const QString& sign, double ShopRates::*rate,
             double factor, double most);
    void keep();

    struct Row {
        NumberEdit* edit;
        double ShopRates::*rate;
        double factor; ///< shown = kept × factor
    };
    EstimatePage& estimate;
    ShopRates shop;
    std::vector<Row> rows;
    QLineEdit* currency;
    QLabel* source;
};

} // namespace rapt::app
