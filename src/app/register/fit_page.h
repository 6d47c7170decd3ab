#pragma once
// One fit from all that was seen, how far to trust it, and what the person decides.

#include "app/kit/page.h"

#include <QTableWidget>

namespace rapt::app {

class FitPage : public Page {
    Q_OBJECT
public:
    explicit FitPage(Session& session);
    void refresh() override;

private:
    void fillTable(const Registration& r, const Assessment* a);
    void showNumbers(const Assessment& a);
    void showTrust(const Assessment& a);
    void choose(CorrectionChoice choice);

    QTableWidget* table;
    QComboBox* model;
    QLabel *numbers, *trustWords, *missWords, *panelWords;
    QPushButton *trust, *correct, *planned, *again;
};

} // namespace rapt::app
