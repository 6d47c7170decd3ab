#include "app/ledger/estimate_page.h"

#include "app/panels/plain_table.h"
#include "app/state/sewing_state.h"
#include "base/paths.h"
#include "estimate/timing.h"

namespace rapt::app {
namespace {

constexpr int quantities[] = {1, 5, 10, 25, 50, 100};

QString money(double amount) { return QString::number(amount, 'f', 2); }

ShopRates ratesOrStart() {
    const auto read = loadShop(dataFolder(), userDataFolder());
    return read ? *read : ShopRates();
}

QTableWidgetItem* cell(const QString& text, bool right = true) {
    auto* item = new QTableWidgetItem(text);
    if (right) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    return item;
}

} // namespace

EstimatePage::EstimatePage(Session& s)
    : ComposePage(s), shop(ratesOrStart()), parts(new QTableWidget), steps(new QTableWidget),
      quantity(new NumberEdit(tr("Quantity"), "", 0)), blank(new NumberEdit(tr("Blank"), "", 2)),
      each(new NumberEdit(tr("Price each"), "", 2)), words(wordsLabel()) {
    words->setObjectName("estimateWords");
    column->addWidget(words);
    column->addLayout(pairRow(tr("Items"), quantity, tr("Blank"), blank));
    column->addLayout(row(tr("Price each"), each));
    column->addWidget(quietLabel(tr("0 asks what the shop's margin gives.")));
    makePlain(*parts, {tr("Part"), tr("One"), tr("All")}, 10);
    parts->setObjectName("costParts");
    column->addWidget(parts);
    column->addWidget(headLabel(tr("By quantity")));
    makePlain(*steps, {tr("Items"), tr("Cost"), tr("Each"), tr("Margin")},
              static_cast<int>(std::size(quantities)) + 1);
    steps->setObjectName("quantitySteps");
    column->addWidget(steps);
    column->addStretch();
    quantity->setRange(1, 1e6);
    blank->setRange(0, 1e9);
    each->setRange(0, 1e9);
    connect(quantity, &TypedEdit::typed, this, [this](double n) {
        Brief brief = session.job().brief;
        brief.quantity = static_cast<int>(n);
        session.document.apply(setBrief(brief, "Change the quantity"));
    });
    connect(blank, &TypedEdit::typed, this,
            [this](double v) { take(&Brief::blankCost, v, tr("Change the blank's cost")); });
    connect(each, &TypedEdit::typed, this,
            [this](double v) { take(&Brief::price, v, tr("Change the price")); });
}

void EstimatePage::reloadRates() {
    shop = ratesOrStart();
    refresh();
}

void EstimatePage::take(double Brief::*part, double value, const QString& name) {
    Brief brief = session.job().brief;
    brief.*part = value;
    session.document.apply(setBrief(brief, name.toStdString()));
}

void EstimatePage::refresh() {
    const Brief& brief = session.job().brief;
    quantity->setValue(brief.quantity);
    blank->setValue(brief.blankCost);
    each->setValue(brief.price);
    const auto* known = session.handing();
    shown.reset();
    parts->setRowCount(0);
    steps->setRowCount(0);
    if (known && *known)
        fill(***known);
    else
        words->setText(known ? QString::fromStdString(known->error().reason)
                             : tr("It is being worked out."));
}

void EstimatePage::fill(const Handing& h) {
    const Brief& brief = session.job().brief;
    const auto priced = [&](int n) { return priceOf(h.work, brief, n, h.machine, shop); };
    const Price all = priced(brief.quantity), one = priced(1);
    shown = all;
    words->setText(
        tr("%1 for %2: cost %3 %4, price %5, margin %6 %. Rates: %7.")
            .arg(QString::fromStdString(formatDuration(h.work.seconds.total() * all.quantity)))
            .arg(all.quantity)
            .arg(money(all.cost.total()), QString::fromStdString(shop.currency), money(all.price),
                 QString::number(100 * all.margin, 'f', 0), QString::fromStdString(shop.source)));
    const std::pair<QString, double Cost::*> lines[] = {
        {tr("Blank"), &Cost::blank},     {tr("Thread"), &Cost::thread},
        {tr("Bobbin"), &Cost::bobbin},   {tr("Stabilizer"), &Cost::stabilizer},
        {tr("Wastage"), &Cost::wastage}, {tr("Labour"), &Cost::labour},
        {tr("Machine"), &Cost::machine}, {tr("Overhead"), &Cost::overhead}};
    parts->setRowCount(9);
    int at = 0;
    for (const auto& [name, part] : lines) {
        parts->setItem(at, 0, cell(name, false));
        parts->setItem(at, 1, cell(money(one.cost.*part)));
        parts->setItem(at, 2, cell(money(all.cost.*part)));
        ++at;
    }
    parts->setItem(at, 0, cell(tr("Total, %1").arg(QString::fromStdString(shop.currency)), false));
    parts->setItem(at, 1, cell(money(one.cost.total())));
    parts->setItem(at, 2, cell(money(all.cost.total())));
    steps->setRowCount(static_cast<int>(std::size(quantities)));
    at = 0;
    for (const int n : quantities) {
        const Price p = priced(n);
        steps->setItem(at, 0, cell(QString::number(n), false));
        steps->setItem(at, 1, cell(money(p.cost.total())));
        steps->setItem(at, 2, cell(money(p.each())));
        steps->setItem(at, 3, cell(tr("%1 %").arg(100 * p.margin, 0, 'f', 0)));
        ++at;
    }
}

RatesPage::RatesPage(Session& s)
    : ComposePage(s), shop(ratesOrStart()), currency(new QLineEdit), source(quietLabel({})) {
    currency->setObjectName("currency");
    column->addLayout(row(tr("Currency"), currency));
    add(tr("Labour, 1 h"), "labourRate", "", &ShopRates::labourPerHour, 1, 1e9);
    add(tr("Machine, 1 h"), "machineRate", "", &ShopRates::machinePerHour, 1, 1e9);
    add(tr("Thread, 1 km"), "threadRate", "", &ShopRates::threadPer1000M, 1, 1e9);
    add(tr("Bobbin, 1 km"), "bobbinRate", "", &ShopRates::bobbinPer1000M, 1, 1e9);
    add(tr("Backing, 1 m²"), "stabilizerRate", "", &ShopRates::stabilizerPerM2, 1, 1e9);
    add(tr("A needle"), "needleRate", "", &ShopRates::needle, 1, 1e9);
    add(tr("Setting up"), "setupRate", " min", &ShopRates::setupMinutes, 1, 1e5);
    add(tr("Watching"), "watchingRate", " %", &ShopRates::watching, 100, 100);
    add(tr("Wastage"), "wastageRate", " %", &ShopRates::wastage, 100, 1000);
    add(tr("Overhead"), "overheadRate", " %", &ShopRates::overhead, 100, 1000);
    add(tr("Margin"), "marginRate", " %", &ShopRates::margin, 100, 99);
    column->addWidget(source);
    column->addStretch();
    connect(currency, &QLineEdit::editingFinished, this, [this] {
        const std::string typed = currency->text().trimmed().toStdString();
        if (typed.empty() || typed.size() > 8 || typed == shop.currency) return refresh();
        shop.currency = typed;
        keep();
    });
}

void RatesPage::add(const QString& label, const char* name, const QString& sign,
                    double ShopRates::*rate, double factor, double most) {
    auto* edit = new NumberEdit(label, sign, 2);
    edit->field()->setObjectName(name);
    edit->setRange(0, most);
    rows.push_back({edit, rate, factor});
    column->addLayout(row(label, edit));
    connect(edit, &TypedEdit::typed, this, [this, rate, factor](double value) {
        shop.*rate = value / factor;
        keep();
    });
}

void RatesPage::keep() {
    shop.source = "the shop's own";
    const Status saved = saveShop(shop, userDataFolder());
    if (!saved)
        emit failed(tr("The rates are not kept"), QString::fromStdString(saved.error().line()));
    refresh();
    emit changed();
}

void RatesPage::reload() {
    shop = ratesOrStart();
    refresh();
}

void RatesPage::refresh() {
    currency->setText(QString::fromStdString(shop.currency));
    for (const Row& r : rows) r.edit->setValue(shop.*r.rate * r.factor);
    source->setText(tr("These are %1.").arg(QString::fromStdString(shop.source)));
}

} // namespace rapt::app
