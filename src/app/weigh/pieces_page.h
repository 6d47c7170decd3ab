#pragma once
// All pieces in a table: size, scale, spacing, peak, verdict.

#include "app/kit/page.h"

#include <QTableWidget>

namespace rapt::app {

class PiecesPage : public Page {
    Q_OBJECT
public:
    explicit PiecesPage(Session& session);
    void refresh() override;

private:
    void takeSelection();
    void addRow(const Piece& piece, const PieceFacts& facts);
    QString verdictOf(const std::string& piece, Severity* severity) const;

    QTableWidget* table;
    QLabel* words;
    bool refreshing = false;
};

} // namespace rapt::app
