#include "app/ledger/estimate_page.h"

#include "app/kit/questions.h"
#include "app/stitchout/sewing_state.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "estimate/timing.h"
#include "sheets/quote_pdf.h"

#include <map>
#include <set>

namespace rapt::app {
namespace {

constexpr int quantities[] = {1, 5, 10, 25, 50, 100};

QString money(double amount) { return QString::number(amount, 'f', 2); }

ShopRates ratesOrStart() {
    const auto read = loadShop(dataFolder(), userDataFolder());
    return read ? *read : ShopRates();
}

} // namespace

EstimatePage::EstimatePage(Session& s)
    : Page(s), shop(ratesOrStart()),
      parts(new RowsTable({tr("Part"), tr("One"), tr("All"), tr("Of it")}, "costParts")),
      steps(new RowsTable({tr("Items"), tr("Cost"), tr("Each"), tr("Margin")}, "quantitySteps")),
      takes(new RowsTable({tr("For all"), tr("Amount"), tr("Of it")}, "takes")),
      savings(new RowsTable({tr("Instead"), tr("Time"), tr("Cost")}, "savings")),
      curve(new PriceCurve), quantity(new NumberEdit(tr("Quantity"), "", 0)),
      blank(new NumberEdit(tr("Blank"), "", 2)), each(new NumberEdit(tr("Price each"), "", 2)),
      words(wordsLabel()), savingWords(quietLabel({})), useSaving(nullptr) {
    words->setObjectName("estimateWords");
    savingWords->setObjectName("savingWords");
    savingWords->hide();
    column->addWidget(words);
    column->addLayout(pairRow(tr("Items"), quantity, tr("Blank"), blank));
    column->addLayout(row(tr("Price each"), each));
    column->addWidget(quietLabel(tr("0 asks what the shop's margin gives.")));
    buildSavings();
    column->addStretch();
    buildMiddle();
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

/// Parts and what they need on the left, what the quantity does on the right.
void EstimatePage::buildMiddle() {
    auto* across = new QHBoxLayout;
    across->setSpacing(28);
    makeCentre()->addLayout(across);
    const auto half = [&](std::initializer_list<std::pair<QString, QWidget*>> list) {
        auto* lines = new QVBoxLayout;
        for (const auto& [head, part] : list) {
            if (!head.isEmpty()) lines->addWidget(headLabel(head));
            lines->addWidget(part);
        }
        lines->addStretch();
        across->addLayout(lines, 1);
    };
    parts->setVisibleRows(9);
    steps->setVisibleRows(static_cast<int>(std::size(quantities)));
    parts->setItemDelegateForColumn(3, new ShareBar(this));
    takes->setMinimumHeight(260);
    takes->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    half({{tr("What it costs"), parts}, {tr("What it takes"), takes}});
    half({{tr("By quantity"), curve}, {"", steps}});
}

void EstimatePage::buildSavings() {
    column->addLayout(sideBySide(
        {button(tr("Quote as PDF…"), "saveQuote", [this] { saveQuote(); }),
         button(tr("What would save?"), "lookForSavings", [this] { lookForSavings(); })}));
    column->addWidget(savingWords);
    savings->setVisibleRows(4);
    savings->hide();
    column->addWidget(savings);
    useSaving = button(tr("Change the job so"), "useSaving", [this] { takeSaving(); });
    useSaving->hide();
    column->addWidget(useSaving);
    connect(savings, &RowsTable::rowChosen, this, &EstimatePage::showChosenSaving);
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
    if (known && *known) return fill(***known);
    // While it is worked out, what was there stays; without an answer nothing does.
    if (known)
        for (RowsTable* table : {parts, steps, takes}) table->setRows({});
    if (known) curve->show({}, 0, {});
    words->setText(known ? QString::fromStdString(known->error().reason)
                         : tr("It is being worked out."));
}

EstimatePage::~EstimatePage() { searching.request_stop(); }

void EstimatePage::say(const QString& text) {
    savingWords->setText(text);
    savingWords->setVisible(!text.isEmpty());
}

void EstimatePage::saveQuote() {
    const auto* known = session.handing();
    const Derived* derived = session.checked();
    if (!known || !*known || !derived) return;
    const QString path = askSaveName(
        window(), tr("Quote as PDF"),
        QString::fromStdString(session.job().name) + tr(" – quote.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty()) return;
    const Handing& h = ***known;
    TemplateOptions printing;
    printing.facesFolder = dataFolder() + "/faces";
    const auto made =
        makeQuote({session.job(), derived->stitched().list, h.work, h.machine, h.fabric, shop,
                   session.job().brief.quantity,
                   QDate::currentDate().toString(Qt::ISODate).toStdString(), printing});
    const Status written =
        made ? writeWholeFile(path.toStdString(), made->pdf) : Status(made.error());
    if (!written)
        return emit failed(tr("No quote"), QString::fromStdString(written.error().line()));
    say(tr("The quote is in %1.").arg(path));
}

void EstimatePage::lookForSavings() {
    const auto* known = session.handing();
    if (!known || !*known) return;
    searching.request_stop();
    searching = {};
    say(tr("Orders, frames and machines are being tried."));
    QtConcurrent::run([job = session.job(), library = session.sharedLibrary(), h = **known,
                       rates = shop, stop = searching.get_token()] {
        StitchCache cache;
        return savingsOf({job, *library, h->machine, h->fabric, rates, job.brief.quantity}, cache,
                         stop);
    }).then(this, [this, of = session.job()](Result<std::vector<Saving>> result) {
        if (!result && result.error().fault == Fault::cancelled) return;
        found = result ? std::move(*result) : std::vector<Saving>{};
        foundFor = of;
        say(!result         ? QString::fromStdString(result.error().reason)
            : found.empty() ? tr("No other order, frame or machine saves a hundredth.")
                            : QString());
        showSavings();
    });
}

void EstimatePage::showSavings() {
    savings->setVisible(!found.empty());
    useSaving->setVisible(!found.empty());
    useSaving->setEnabled(false);
    savings->setHeads(
        {tr("Instead"), tr("Time"), tr("Cost, %1").arg(QString::fromStdString(shop.currency))});
    std::vector<TableRow> lines;
    for (const Saving& s : found) {
        const QString what = QString::fromStdString(s.words);
        lines.push_back(
            {what, {what, tr("%1 min").arg(-s.seconds / 60, 0, 'f', 0), money(-s.money)}, what});
    }
    savings->setRows(lines);
    if (!found.empty()) savings->selectRow(0);
}

/// The chosen one in full, as its row has little room.
void EstimatePage::showChosenSaving() {
    const int row = savings->currentRow();
    const bool good = row >= 0 && row < static_cast<int>(found.size());
    useSaving->setEnabled(good);
    if (!good) return;
    const Saving& s = found[static_cast<std::size_t>(row)];
    say(tr("%1. %2 min and %3 %4 less for all.")
            .arg(QString::fromStdString(s.words))
            .arg(s.seconds / 60, 0, 'f', 0)
            .arg(money(s.money), QString::fromStdString(shop.currency)));
}

void EstimatePage::takeSaving() {
    const int row = savings->currentRow();
    if (row < 0 || row >= static_cast<int>(found.size())) return;
    const Saving s = found[static_cast<std::size_t>(row)];
    if (!(session.job() == foundFor)) {
        say(tr("The job has changed since; look again."));
    } else if (s.job) {
        session.document.apply({s.words, [job = *s.job](const Job&) { return job; }});
    } else {
        Brief brief = session.job().brief;
        brief.machine = s.machine;
        session.document.apply(setBrief(brief, s.words));
    }
    found.clear();
    showSavings();
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
    std::vector<TableRow> costs;
    const auto addCost = [&](const QString& name, double single, double whole) {
        costs.push_back(
            {name,
             {name, money(single), money(whole),
              tr("%1 %").arg(100 * whole / std::max(1e-9, all.cost.total()), 0, 'f', 0)}});
    };
    for (const auto& [name, part] : lines) addCost(name, one.cost.*part, all.cost.*part);
    addCost(tr("Total, %1").arg(QString::fromStdString(shop.currency)), one.cost.total(),
            all.cost.total());
    parts->setRows(costs);
    fillTakes(h, all.quantity);
    std::vector<TableRow> byQuantity;
    std::vector<QPointF> single;
    for (const int n : quantities) {
        const Price p = priced(n);
        byQuantity.push_back({QString::number(n),
                              {QString::number(n), money(p.cost.total()), money(p.each()),
                               tr("%1 %").arg(100 * p.margin, 0, 'f', 0)}});
    }
    steps->setRows(byQuantity);
    for (int n = 1; n <= 100; n += n < 10 ? 1 : 5) single.emplace_back(n, priced(n).each());
    curve->show(std::move(single), brief.quantity, QString::fromStdString(shop.currency));
}

/// Time by its parts, thread by colour and cones, bobbins, stabilizer by frame, needles.
void EstimatePage::fillTakes(const Handing& h, int items) {
    const double n = items;
    const Work& w = h.work;
    std::vector<TableRow> lines;
    const auto add = [&](const QString& what, const QString& amount, const QString& share) {
        lines.push_back({what, {what, amount, share}});
    };
    const auto minutes = [&](const QString& what, double seconds) {
        add(what, tr("%1 min").arg(seconds * n / 60, 0, 'f', 0),
            tr("%1 %").arg(100 * seconds / std::max(1.0, w.seconds.total()), 0, 'f', 0));
    };
    minutes(tr("Sewing"), w.seconds.sewing);
    minutes(tr("Thread changes"), w.seconds.threadChanges);
    minutes(tr("Trims"), w.seconds.trims);
    minutes(tr("Hooping"), w.seconds.clampings);
    minutes(tr("Registering"), w.seconds.registrations);
    for (const ThreadNeed& t : w.threads)
        add(QString::fromStdString(t.thread.name.empty() ? formatRgb(t.thread.color)
                                                         : t.thread.name),
            tr("%1 m").arg(t.topMm * n / 1000, 0, 'f', 1),
            tr("%1 cones").arg(t.topMm * n / 1000 / h.machine.coneM, 0, 'f', 2));
    add(tr("Bobbin"), tr("%1 m").arg(w.bobbinMm * n / 1000, 0, 'f', 1),
        tr("%1 full").arg(w.bobbinMm * n / 1000 / h.machine.bobbinM, 0, 'f', 1));
    std::map<std::string, std::set<int>> frames;
    for (const Hooping& hooping : session.job().hoopings)
        frames[hooping.hoop].insert(hooping.clamping);
    for (const auto& [id, clampings] : frames)
        if (const auto hoop = session.library.hoop(id)) {
            const double times = static_cast<double>(clampings.size()) * n;
            add(tr("Stabilizer, %1").arg(QString::fromStdString(hoop->name)),
                tr("%1 cm²").arg(hoop->outerWidthMm * hoop->outerHeightMm / 100 *
                                     h.fabric.stabilizerLayers * times,
                                 0, 'f', 0),
                tr("%1 times").arg(times));
        }
    const double stitches = static_cast<double>(w.stitches) * n;
    add(tr("Needles"), QString::number(stitches / shop.stitchesPerNeedle, 'f', 2),
        tr("%L1 stitches").arg(stitches, 0, 'f', 0));
    takes->setRows(lines);
}

RatesPage::RatesPage(Session& s, EstimatePage& beside)
    : Page(s), estimate(beside), shop(ratesOrStart()), currency(new QLineEdit),
      source(quietLabel({})) {
    central = estimate.centre();
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
        if (typed == shop.currency) return;
        if (typed.empty() || typed.size() > 8) {
            refresh();
            return emit failed(tr("The currency stays"),
                               tr("It must be a short sign such as EUR, of 8 letters at most."));
        }
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
    estimate.refresh();
    currency->setText(QString::fromStdString(shop.currency));
    for (const Row& r : rows) r.edit->setValue(shop.*r.rate * r.factor);
    source->setText(tr("These are %1.").arg(QString::fromStdString(shop.source)));
}

} // namespace rapt::app
