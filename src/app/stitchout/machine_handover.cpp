#include "app/stitchout/machine_handover.h"

#include "formats/stitch_csv.h"

#include <QJsonArray>

namespace rapt::app {

void MachineHandover::look(MachineRun& machine, Looked looked) {
    machine.wire().ask({{"do", "status"}}, [&machine, looked](const QJsonObject& status) {
        machine.wire().ask({{"do", "list"}}, [status, looked](const QJsonObject& reply) {
            if (!status["ok"].toBool() || !reply["ok"].toBool())
                return looked(cannotDo(
                    (status["ok"].toBool() ? reply : status)["reason"].toString().toStdString()));
            Receiver receiver;
            receiver.isStick = false;
            receiver.freeBytes = static_cast<std::int64_t>(status["free_bytes"].toDouble());
            for (const QJsonValue& d : reply["designs"].toArray())
                receiver.there.push_back({d["name"].toString().toStdString(),
                                          static_cast<std::int64_t>(d["bytes"].toDouble()),
                                          d["job"].toString().toStdString(), d["hooping"].toInt(),
                                          d["mark"].toString().toStdString(),
                                          d["job_id"].toString().toStdString()});
            receiver.places = status["places"].toInt() + static_cast<int>(receiver.there.size());
            looked(receiver);
        });
    });
}

MachineHandover::MachineHandover(MachineRun& m, Handover p,
                                 std::vector<std::shared_ptr<const RunTask>> t,
                                 std::vector<std::string> r)
    : QObject(&m), machine(m), plan(std::move(p)), tasks(std::move(t)), remove(std::move(r)) {}

void MachineHandover::storeNext() {
    if (at == plan.files.size()) {
        at = 0;
        return removeNext();
    }
    const HandoverFile& file = plan.files[at];
    const QJsonObject request =
        storeRequest(*tasks[file.hooping], QString::fromStdString(file.file));
    machine.wire().ask(request, [this](const QJsonObject& reply) {
        if (!reply["ok"].toBool()) return end(reply["reason"].toString());
        prove();
    });
}

void MachineHandover::prove() {
    const QString name = QString::fromStdString(plan.files[at].file);
    machine.wire().ask({{"do", "preview"}, {"name", name}, {"text", true}},
                       [this, name](const QJsonObject& reply) {
                           const auto meant = parseStitchCsv(plan.files[at].text, "");
                           const auto back = parseStitchCsv(reply["text"].toString().toStdString(),
                                                            name.toStdString());
                           if (!back) return end(QString::fromStdString(back.error().line()));
                           const std::string difference = differenceFrom(*meant, *back);
                           if (!difference.empty())
                               return end(name + ": " + QString::fromStdString(difference));
                           ++at;
                           storeNext();
                       });
}

void MachineHandover::removeNext() {
    if (at == remove.size()) return end({});
    machine.wire().ask({{"do", "delete"}, {"name", QString::fromStdString(remove[at])}},
                       [this](const QJsonObject& reply) {
                           if (!reply["ok"].toBool()) return end(reply["reason"].toString());
                           ++at;
                           removeNext();
                       });
}

void MachineHandover::end(const QString& reason) {
    emit done(reason);
    deleteLater();
}

} // namespace rapt::app
