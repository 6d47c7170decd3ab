#pragma once
// Which thread is on which needle, by number and word; what to change and when.

#include "app/compose/compose_page.h"
#include "handover/needles.h"

#include <QCheckBox>
#include <QGridLayout>

namespace rapt::app {

class NeedlesPage : public ComposePage {
    Q_OBJECT
public:
    explicit NeedlesPage(Session& session);
    void refresh() override;

private:
    struct Row {
        QLabel* number;
        QComboBox* cone;
        QLineEdit* left;
        QCheckBox* keep;
    };
    void makeRows(std::size_t count);
    void fillRow(std::size_t needle, const std::optional<Cone>& cone, const Handing* handing);
    void takeCone(std::size_t needle, int choice);
    void takeLeft(std::size_t needle);
    void takeKeep(std::size_t needle, bool on);
    void set(const Needles& needles);
    void threadAsPlanned();
    QString planWords(const Handing& h) const;
    std::optional<Machine> machine() const;

    QGridLayout* grid;
    std::vector<Row> rows;
    std::vector<Thread> choices; ///< of every cone box, after "empty"
    QLabel* plan;
    QPushButton* asPlanned;
};

} // namespace rapt::app
