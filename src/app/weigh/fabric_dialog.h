#pragma once
// What a fabric takes, to be read and changed.

#include "app/document/session.h"

#include <QCheckBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

namespace rapt::app {

/// Edits the job's fabric; what is kept goes to the person's own library.
class FabricDialog : public QDialog {
    Q_OBJECT
public:
    explicit FabricDialog(Session& session, QWidget* parent = nullptr);
    void accept() override;

private:
    void addLimits(QFormLayout& form);
    void addAdvice(QFormLayout& form);
    Fabric typed() const;
    void check();

    Session& session;
    Fabric original;
    struct Number {
        double Fabric::*value;
        QDoubleSpinBox* box;
        double shown; ///< the value as its decimals show it
    };
    std::vector<Number> numbers;
    QCheckBox* tears;
    QDoubleSpinBox* lineHits;
    double lineHitsShown = 0;
    QSpinBox* speed;
    QLineEdit *stabilizer, *topper, *needle;
    QLabel* problem;
    QPushButton* keep;
};

} // namespace rapt::app
