#pragma once
// Which thread is on which needle, by number and word; what to change and when.

#include "app/kit/page.h"
#include "handover/needles.h"

#include <QCheckBox>
#include <QGridLayout>

namespace rapt::app {

/// The needles as one sees them at the machine: the cone over each, what is left on it, and what
/// comes on it next.
class NeedleRow : public QWidget {
    Q_OBJECT
public:
    explicit NeedleRow(QWidget* parent = nullptr);
    /// Changes are of the plan; none while it is worked out.
    void show(const Needles& now, const std::vector<ConeChange>& changes);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Needles now;
    std::vector<ConeChange> changes;
};

class NeedlesPage : public Page {
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

    NeedleRow* picture;
    QGridLayout* grid;
    std::vector<Row> rows;
    std::vector<Thread> choices; ///< of every cone box, after "empty"
    QLabel* plan;
    QPushButton* asPlanned;
};

} // namespace rapt::app
