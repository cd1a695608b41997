#include "files/output_file.h"
#include "verb.h"
#include "verbs.h"

#include <csignal>

int main(int argc, char** argv) {
    using namespace fg::cli;
    Program program("fgauge", "Turns raw counts and bus readings into calibrated physical units, and back.",
                    FAIRGAUGE_VERSION);
    program.top().requireVerb();
    for (const auto add :
         {addConvert, addCode,      addCheckFormula, addPaper,  addParts,  addCheck, addSize,      addBudget, addTable,
          addDecode,  addRegisters, addBus,          addChoose, addPlan,   addBench, addCalibrate, addRecord, addDerive,
          addCompare, addJournal,   addLog,          addExport, addImport, addAlarm, addSender})
        add(program.top());
    // An output that is interrupted leaves nothing half written behind.
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
        struct sigaction action {};
        action.sa_handler = [](int number) {
            fg::OutputFile::removeUnfinished();
            ::raise(number);
        };
        action.sa_flags = static_cast<int>(SA_RESETHAND);
        ::sigaction(signal, &action, nullptr);
    }
    return program.run(argc, argv);
}
