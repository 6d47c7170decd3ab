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

/// A number that people type. What cannot be read is said below the field and changes nothing.
class TypedEdit : public QWidget {
    Q_OBJECT
public:
    /// Shows a value unless the person is typing.
    void setValue(double value);
    /// Refuses values outside; by default everything is allowed.
    void setRange(double low, double high);
    QLineEdit* field() const { return edit; }
    QString complaint() const { return problem->text(); }

signals:
    void typed(double value);

protected:
    TypedEdit(const QString& name, QWidget* parent);
    virtual Result<double> read(const std::string& text) const = 0;
    virtual QString words(double value) const = 0;
    void show();
    /// Ctrl+Z goes to the job unless something is typed; Escape takes back what is.
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void take();

    QLineEdit* edit;
    QLabel* problem;
    double shown = 0;
    double low = -1e9, high = 1e9;
};

/// A length in mm, cm or inches with fractions.
class LengthEdit : public TypedEdit {
    Q_OBJECT
public:
    LengthEdit(Session& session, const QString& name, QWidget* parent = nullptr);
    void setMm(double mm) { setValue(mm); }

protected:
    Result<double> read(const std::string& text) const override;
    QString words(double mm) const override;

private:
    Session& session;
};

/// A number with a sign after it, such as ° or %.
class NumberEdit : public TypedEdit {
    Q_OBJECT
public:
    NumberEdit(const QString& name, const QString& sign, int decimals, QWidget* parent = nullptr);

protected:
    Result<double> read(const std::string& text) const override;
    QString words(double value) const override;

private:
    QString sign;
    int decimals;
};

QLabel* headLabel(const QString& text);
QLabel* quietLabel(const QString& text);
/// A wrapped label whose words may be selected.
QLabel* wordsLabel(const QString& text = {});
/// Label and field side by side.
QHBoxLayout* row(const QString& label, QWidget* field);
/// Two short fields with their labels in one line.
QHBoxLayout* pairRow(const QString& first, QWidget* a, const QString& second, QWidget* b);
QPushButton* mainButton(const QString& text);
/// A thin line between groups.
QWidget* hairLine();

} // namespace rapt::app
