#pragma once
// Handing a job over to a machine's memory: looked at first, then stored, then read back.

#include "app/stitchout/machine_run.h"
#include "handover/handover.h"

namespace rapt::app {

/// One hand-over; deletes itself when it is done.
class MachineHandover : public QObject {
    Q_OBJECT
public:
    /// Gives what a machine holds, or why that is not known.
    using Looked = std::function<void(const Result<Receiver>&)>;
    static void look(MachineRun& machine, Looked looked);

    /// Stores the tasks under the names of the plan, reads each back, and removes those named last.
    MachineHandover(MachineRun& machine, Handover plan,
                    std::vector<std::shared_ptr<const RunTask>> tasks,
                    std::vector<std::string> remove);
    void start() { storeNext(); }

signals:
    /// An empty reason says that all of it is there, equal stitch by stitch.
    void done(const QString& reason);

private:
    void storeNext();
    void prove();
    void removeNext();
    void end(const QString& reason);

    MachineRun& machine;
    Handover plan;
    std::vector<std::shared_ptr<const RunTask>> tasks;
    std::vector<std::string> remove;
    std::size_t at = 0;
};

} // namespace rapt::app
