#pragma once
// Findings as cards: what is wrong, how much, and the button that mends it.

#include "app/document/session.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace rapt::app {

class FindingCard;

class FindingsList : public QWidget {
    Q_OBJECT
public:
    explicit FindingsList(Session& session, QWidget* parent = nullptr);

    /// "1 stop · 2 cautions", or "none open".
    static QString countText(const std::vector<Finding>& findings);

private:
    void refresh();
    bool takeRemedies(const std::vector<Finding>& findings, const std::vector<ToldFinding>& told);

    Session& session;
    QLabel* count;
    QWidget* box = nullptr; ///< holds the cards
    std::vector<FindingCard*> cards;
};

/// One finding, and what is told with it. Enter or a click shows its place; the remedy has a button
/// of its own.
class FindingCard : public QWidget {
    Q_OBJECT
public:
    FindingCard(const Finding& finding, const QStringList& also, Session& session,
                QWidget* parent = nullptr);

    /// True if only what was found about remedies may differ.
    bool isAbout(const Finding& other, const QStringList& otherAlso) const;
    /// Shows the remedies that are known now.
    void takeRemedies(const Finding& known);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void show();
    void addRemedy(const Remedy& remedy, const char* name);
    void showRemedies();

    Finding finding;
    QStringList also;
    QLabel* cause;
    QWidget* mending = nullptr; ///< what can be done
    std::size_t shownPlace = 0; ///< the next of its places that a click shows
    Session& session;
};

/// The shape that stands for a severity: octagon, triangle or ring.
void paintSeverity(QPainter& painter, QPointF centre, double radius, Severity severity);

} // namespace rapt::app
