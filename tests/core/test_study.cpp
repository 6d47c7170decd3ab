// Quiet on honest work, never silent on a fault, and every way out leads out: a small part of what
// `rapt-study-table` tries at length.

#include "support.h"

#include "study.h"

using namespace rapt;

class TestStudy : public QObject {
    Q_OBJECT
    Library library;
private slots:
    void initTestCase() { library = test::library(); }

    void honestLayoutsAreQuiet() {
        for (quint64 seed = 201; seed < 209; ++seed) {
            const auto judged = study::judge(study::honestLayout(library, seed), library);
            QVERIFY2(judged.worst.empty(),
                     qPrintable(QString("%1: %2").arg(seed).arg(judged.worst.c_str())));
        }
    }

    void plantedFaultsAreFoundAndHelped_data() {
        QTest::addColumn<int>("number");
        for (std::size_t i = 0; i < study::faults().size(); ++i)
            QTest::newRow(study::faults()[i].name.c_str()) << static_cast<int>(i);
    }
    void plantedFaultsAreFoundAndHelped() {
        QFETCH(int, number);
        const study::Fault& fault = study::faults()[static_cast<std::size_t>(number)];
        for (quint64 seed = 301;; ++seed) {
            QVERIFY2(seed < 400, "no layout takes it");
            Job job = study::honestLayout(library, seed);
            std::string piece;
            if (!fault.plant(job, library, seed, piece)) continue;
            const auto judged = study::judge(job, library, &fault, piece);
            QVERIFY2(judged.found, qPrintable(QString("seed %1").arg(seed)));
            QVERIFY2(judged.working == judged.remedies, judged.failing.c_str());
            return;
        }
    }
};

RAPT_TEST(TestStudy)
#include "test_study.moc"
