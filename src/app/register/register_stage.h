#pragma once
// Register: where the cloth really is in the hoop, how far to trust it, and the correction.

#include "app/kit/stage_view.h"
#include "app/register/guide_strip.h"
#include "app/register/scan_reader.h"

namespace rapt::app {

class ScanPage;

class RegisterStage : public StageView {
    Q_OBJECT
public:
    enum Tab { scan, points, fit, trace, practice };
    explicit RegisterStage(Session& session, QWidget* parent = nullptr);

    /// Reads a scan of the chosen hooping, in the background; what it shows is proposed.
    void readScanFile(const QString& path) { reader->readFile(path); }
    bool isReading() const { return reader->isReading(); }
    ScanPage& scanPage() { return *scans; }

protected:
    void refresh() override;
    void onPage(int page) override;
    void judge() override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void fillHoopings();
    void followPointer();
    void judgeFit(const Registration& r, const Assessment& a);

    std::optional<Vec2> followed; ///< by the machine's pointer
    ScanReader* reader;
    QComboBox* hooping;
    GuideStrip* guide;
    ScanPage* scans;
};

} // namespace rapt::app
