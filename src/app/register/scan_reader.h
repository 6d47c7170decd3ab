#pragma once
// Pictures read in the background: what they propose, or where cards lie before the cloth is hooped
// again.

#include "app/document/session.h"
#include "standins/camera.h"

#include <QObject>

namespace rapt::app {

class ScanReader : public QObject {
    Q_OBJECT
public:
    explicit ScanReader(Session& session, QObject* parent = nullptr);

    /// Of the chosen hooping. A picture that comes while another is read takes its place.
    void readFile(const QString& path);
    void readBytes(std::string bytes, const QString& name);
    /// Of the stand-in camera, each time another.
    void takePicture(PhotographOptions options);
    void cancel();
    bool isReading() const { return reading->isBusy(); }

    /// True while the next picture is of the clamping before, with the cards that the chosen one
    /// will be found by.
    bool readsBefore() const;
    /// The hooping (from 1) that such a picture shows.
    int hoopingBefore() const;

signals:
    void started();
    void progressed(int percent);
    void ended(); ///< read, failed, cancelled, or its hooping is no longer shown
    void proposed();
    void measuredBefore(const QString& words);
    void failed(const QString& title, const QString& reason);

private:
    using Bytes = std::function<Result<std::string>()>;
    void read(const QString& name, Bytes bytes);
    struct Read {
        std::shared_ptr<const std::string> bytes;
        std::optional<Proposals> proposals;
        std::optional<CardsBefore> before;
    };
    void take(int hooping, const Result<Read>& result);

    Session& session;
    std::unique_ptr<Errands> reading = session.errands();
};

} // namespace rapt::app
