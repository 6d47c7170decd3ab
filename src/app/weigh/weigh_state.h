#pragma once
// How the load is shown.

#include "load/limits.h"

#include <QObject>
#include <optional>

namespace rapt::app {

class WeighState : public QObject {
    Q_OBJECT
public:
    LoadKind kind() const { return shown; }
    void setKind(LoadKind kind);

    /// Where the cloth is parted to compare, from 0 (left edge of the view) to 1: to the left the
    /// job with its stitches kept and nothing relieved, to the right as it is. Nothing to compare
    /// without a value.
    std::optional<double> parting() const { return partedAt; }
    void setParting(std::optional<double> share);

signals:
    void kindChanged();
    void partingChanged();

private:
    LoadKind shown = LoadKind::layers;
    std::optional<double> partedAt;
};

} // namespace rapt::app
