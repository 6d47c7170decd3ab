#include "app/ledger/estimate_page.h"

#include "app/panels/plain_table.h"
#include "app/panels/questions.h"
#include "app/state/sewing_state.h"
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

QTableWidgetItem* cell(const QString& text, bool right = true) {
    auto* item = new QTableWidgetItem(text);
    if (right) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    return item;
}

} // namespace

EstimatePage::EstimatePage(Session& s)
    : ComposePage(s), shop(ratesOrStart()), parts(new QTableWidget), steps(new QTableWidget),
      takes(new QTableWidget), savings(new QTableWidget),
      quantity(new NumberEdit(tr("Quantity"), "", 0)), blank(new NumberEdit(tr("Blank"), "", 2)),
      each(new NumberEdit(tr("Price each"), "", 2)), words(wordsLabel()),
      savingWords(quietLabel({})), useSaving(nullptr) {
    words->setObjectName("estimateWords");
    savingWords->setObjectName("savingWords");
    savingWords->hide();
    column->addWidget(words);
    column->addLayout(pairRow(tr("Items"), quantity, tr("Blank"), blank));
    column->addLayout(row(tr("Price each"), each));
    column->addWidget(quietLabel(tr("0 asks what the shop's margin gives.")));
    buildSavings();
    makePlain(*parts, {tr("Part"), tr("One"), tr("All")}, 10);
    parts->setObjectName("costParts");
    column->addWidget(parts);
    column->addWidget(headLabel(tr("By quantity")));
    makePlain(*steps, {tr("Items"), tr("Cost"), tr("Each"), tr("Margin")},
              static_cast<int>(std::size(quantities)) + 1);
    steps->setObjectName("quantitySteps");
    column->addWidget(steps);
    column->addWidget(headLabel(tr("What it takes")));
    makePlain(*takes, {tr("For all"), tr("Amount"), tr("Of it")}, 9);
    takes->setObjectName("takes");
    column->addWidget(takes);
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

void EstimatePage::buildSavings() {
    column->addLayout(sideBySide(
        {button(tr("Quote as PDF…"), "saveQuote", [this] { saveQuote(); }),
         button(tr("What would save?"), "lookForSavings", [this] { lookForSavings(); })}));
    column->addWidget(savingWords);
    makePlain(*savings, {tr("Instead"), tr("Time"), tr("Cost")}, 4);
    savings->setObjectName("savings");
    savings->hide();
    column->addWidget(savings);
    useSaving = button(tr("Change the job so"), "useSaving", [this] { takeSaving(); });
    useSaving->hide();
    column->addWidget(useSaving);
    connect(savings, &QTableWidget::itemSelectionChanged, this, &EstimatePage::showChosenSaving);
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
    takes->setRowCount(0);
    if (known && *known)
        fill(***known);
    else
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
    savings->setRowCount(static_cast<int>(found.size()));
    for (int i = 0; i < savings->rowCount(); ++i) {
        const Saving& s = found[static_cast<std::size_t>(i)];
        auto* what = cell(QString::fromStdString(s.words), false);
        what->setToolTip(what->text());
        savings->setItem(i, 0, what);
        savings->setItem(i, 1, cell(tr("%1 min").arg(-s.seconds / 60, 0, 'f', 0)));
        savings->setItem(i, 2, cell(money(-s.money)));
    }
    savings->setHorizontalHeaderLabels(
        {tr("Instead"), tr("Time"), tr("Cost, %1").arg(QString::fromStdString(shop.currency))});
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
    fillTakes(h, all.quantity);
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

/// Time by its parts, thread by colour and cones, bobbins, stabilizer by frame, needles.
void EstimatePage::fillTakes(const Handing& h, int items) {
    const double n = items;
    const Work& w = h.work;
    std::vector<std::array<QString, 3>> lines;
    const auto add = [&](const QString& what, const QString& amount, const QString& share) {
        lines.push_back({what, amount, share});
    };
    const auto minutes = [&](const QString& what, double seconds) {
        add(what, tr("%1 min").arg(seconds * n / 60, 0, 'f', 0),
            tr("%1 %").arg(100 * seconds / std::max(1.0, w.seconds.total()), 0, 'f', 0));
    };
    minutes(tr("Sewing"), w.seconds.sewing);
    minutes(tr("Thread changes"), w.seconds.threadChanges);
    minutes(tr("Trims"), w.seconds.trims);
    minutes(tr("Clamping"), w.seconds.clampings);
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
    takes->setRowCount(static_cast<int>(lines.size()));
    for (int i = 0; i < takes->rowCount(); ++i)
        for (int c = 0; c < 3; ++c)
            takes->setItem(i, c, cell(lines[std::size_t(i)][std::size_t(c)], c > 0));
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
    currency->setText(QString::fromStdString(shop.currency));
    for (const Row& r : rows) r.edit->setValue(shop.*r.rate * r.factor);
    source->setText(tr("These are %1.").arg(QString::fromStdString(shop.source)));
}

} // namespace rapt::app
