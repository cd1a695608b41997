#include "verb.h"
#include "verbs.h"

int main(int argc, char** argv) {
    using namespace fg::cli;
    Program program("fgauge", "Turns raw counts and bus readings into calibrated physical units, and back.",
                    FAIRGAUGE_VERSION);
    program.top().requireVerb();
    for (const auto add : {addConvert, addParts, addCheck, addSize, addBudget, addTable, addDecode, addRegisters,
                           addBus, addChoose, addPlan})
        add(program.top());
    return program.run(argc, argv);
}
