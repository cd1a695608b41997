#pragma once

#include "verb.h"

namespace fg::cli {

/// Each adds its verb to the program.
void addCheckFormula(Verb& program);
void addCode(Verb& program);
void addPaper(Verb& program);
void addConvert(Verb& program);
void addParts(Verb& program);
void addCheck(Verb& program);
void addSize(Verb& program);
void addTable(Verb& program);
void addBudget(Verb& program);
void addRegisters(Verb& program);
void addBus(Verb& program);
void addDecode(Verb& program);
void addChoose(Verb& program);
void addPlan(Verb& program);
void addBench(Verb& program);
void addCalibrate(Verb& program);
void addRecord(Verb& program);
void addDerive(Verb& program);
void addCompare(Verb& program);
void addJournal(Verb& program);
void addLog(Verb& program);
void addExport(Verb& program);
void addImport(Verb& program);
void addAlarm(Verb& program);
void addSender(Verb& program);

}  // namespace fg::cli
