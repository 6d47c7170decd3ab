#pragma once
// Small parts that every stage's readout is made of.

#include "app/document/session.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace rapt::app {

/// The stage's judgement in one plain sentence, and its reason in quieter words below.
class Judgement : public QWidget {
    Q_OBJECT
public:
    explicit Judgement(QWidget* parent = nullptr);
    void say(const QString& sentence, const QString& reason);
    QString sentence() const { return head->text(); }
    QString reason() const { return body->text(); }

private:
    QLabel* head;
    QLabel* body;
};

/// A length that people type in mm, cm or inches with fractions. What cannot be read is said below
/// the field and changes nothing.
class LengthEdit : public QWidget {
    Q_OBJECT
public:
    LengthEdit(Session& session, const QString& name, QWidget* parent = nullptr);
    /// Shows a value unless the person is typing.
    void setMm(double mm);
    /// Refuses values outside; by default everything is allowed.
    void setRange(double low, double high);
    QLineEdit* field() const { return edit; }
    QString complaint() const { return problem->text(); }

signals:
    void typed(double mm);

private:
    void take();
    void show();

    Session& session;
    QLineEdit* edit;
    QLabel* problem;
    double shownMm = 0;
    double lowMm = -1e9, highMm = 1e9;
};

QLabel* headLabel(const QString& text);
QLabel* quietLabel(const QString& text);
/// A wrapped label whose words may be selected.
QLabel* wordsLabel(const QString& text = {});
/// Label and field side by side.
QHBoxLayout* row(const QString& label, QWidget* field);
QPushButton* mainButton(const QString& text);
/// A thin line between groups.
QWidget* hairLine();

} // namespace rapt::app
