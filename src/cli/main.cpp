#include "base/result.h"
#include "cli/run.h"

#include <cstdio>
#include <exception>

int main(int argc, char** argv) {
    try {
        rapt::cli::Run run;
        rapt::cli::addDesignVerbs(run);
        rapt::cli::addJobVerbs(run);
        rapt::cli::addHoopingVerbs(run);
        rapt::cli::addRegisterVerbs(run);
        rapt::cli::addPictureVerbs(run);
        rapt::cli::addBatchVerbs(run);
        rapt::cli::addScanVerbs(run);
        rapt::cli::addImportVerbs(run);
        rapt::cli::addLetterVerbs(run);
        rapt::cli::addWeighVerbs(run);
        rapt::cli::addStitchOutVerbs(run);
        rapt::cli::addPrintVerbs(run);
#ifdef RAPT_WITH_LEDGER
        rapt::cli::addLedgerVerbs(run);
#endif
        return run.main(argc, argv);
    } catch (const std::bad_alloc&) {
        std::fputs("rapt: there is not enough memory for this input\n", stderr);
    } catch (const std::exception& e) {
        std::fprintf(stderr, "rapt: %s\n", rapt::badInput(e.what()).line().c_str());
    }
    return rapt::cli::unreadable;
}
