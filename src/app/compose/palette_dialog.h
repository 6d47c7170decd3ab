#pragma once
// The threads owned, as a table that can be changed.

#include "base/result.h"
#include "thread/palette.h"

#include <QDialog>
#include <QLabel>
#include <QTableWidget>

namespace rapt::app {

/// Works on a copy; `palette()` is what to keep once the dialog was accepted. It does not close
/// while a line cannot be read, and says which and why.
class PaletteDialog : public QDialog {
    Q_OBJECT
public:
    explicit PaletteDialog(const Palette& palette, QWidget* parent = nullptr);
    const Palette& palette() const { return owned; }

protected:
    void accept() override;

private:
    void addRow(const OwnedThread& thread);
    void removeRows();
    void showSwatch(int row);
    /// The thread of a row, or why it is none.
    Result<OwnedThread> threadOf(int row) const;

    Palette owned;
    QTableWidget* table;
    QLabel* complaint;
};

} // namespace rapt::app
