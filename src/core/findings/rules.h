#pragma once

#include "findings/finding.h"

namespace fg::rules {

// Each in a file of its own. Adding a rule: declare it here, write its file, add it to the list in finding.cpp.

/// The code shown is at an end of the range: the reading is a limit. Also when an end of the wanted span would clip.
void clipped(const FindingContext& context, std::vector<Finding>& findings);

/// The pin can see more than the converter's limit: a source or supply above it.
void pinOvervoltage(const FindingContext& context, std::vector<Finding>& findings);

/// The wanted span uses less than a tenth of the converter's codes.
void rangeUsed(const FindingContext& context, std::vector<Finding>& findings);

/// The reference looks wrong: measured far from nominal, or a supply taken at its nominal value.
void reference(const FindingContext& context, std::vector<Finding>& findings);

/// The wanted span or the present value lies outside what the sensor's document states.
void sensorRange(const FindingContext& context, std::vector<Finding>& findings);

/// Values that the maker has not given yet.
void examples(const FindingContext& context, std::vector<Finding>& findings);
/// The same for gauges of any kind.
void examplesOf(const GaugeSpec& spec, const Catalogue& catalogue, std::vector<Finding>& findings);

/// What is known to mislead with the converter, where the pin goes.
void converterTraps(const FindingContext& context, std::vector<Finding>& findings);

/// The circuit is said to hang on a reference that cannot feed it.
void referenceFeed(const FindingContext& context, std::vector<Finding>& findings);

/// Conditions of the part's figures that its document states.
void remarks(const FindingContext& context, std::vector<Finding>& findings);

/// A 4–20 mA loop that has failed, or whose value lies beyond the span.
void currentLoop(const FindingContext& context, std::vector<Finding>& findings);

/// The sensor's own supply is below what it needs, or above what it stands.
void sensorSupply(const FindingContext& context, std::vector<Finding>& findings);

/// A resistive sensor warms itself by more than a third of the uncertainty.
void selfHeating(const FindingContext& context, std::vector<Finding>& findings);

/// One part dominates the budget, or nobody said how accurate the sensor is.
void accuracy(const FindingContext& context, std::vector<Finding>& findings);

/// The uncertainty is larger than the accuracy wanted, for gauges of any kind.
void accuracyWanted(const GaugeSpec& spec, const Budget& budget, std::vector<Finding>& findings);

/// One code is more than the accuracy wanted.
void resolution(const FindingContext& context, std::vector<Finding>& findings);

/// The words that set the converter up make of it something else than what the gauge counts with, or clock it beyond
/// its range.
void setupWords(const FindingContext& context, std::vector<Finding>& findings);

/// The converter is stated for a lower source impedance than it looks into.
void sourceImpedance(const FindingContext& context, std::vector<Finding>& findings);

/// Absolute pressure taken for gauge pressure, or the other way round.
void pressureKind(const FindingContext& context, std::vector<Finding>& findings);

/// The sensor inside a chip measures the chip.
void chipSensor(const FindingContext& context, std::vector<Finding>& findings);

/// Cable in series with a resistive sensor, drop on a ground wire; a thermocouple's cable and polarity.
void cable(const FindingContext& context, std::vector<Finding>& findings);

/// An accuracy stated as a percentage: of what, and what that is here.
void percentOfWhat(const FindingContext& context, std::vector<Finding>& findings);

/// The gauge counts by another code law than its converter is specified by.
void codeLaw(const FindingContext& context, std::vector<Finding>& findings);

/// The supply serves as the reference, is not measured, and does not cancel.
void supplyReference(const FindingContext& context, std::vector<Finding>& findings);

/// More decimals are asked for than the uncertainty deserves.
void decimals(const FindingContext& context, std::vector<Finding>& findings);

/// A Monte Carlo run and the budget differ.
void monteCarlo(const FindingContext& context, std::vector<Finding>& findings);

/// Heat, mains, vacuum, water, batteries, health: the usual cautions.
void cautions(const FindingContext& context, std::vector<Finding>& findings);

/// The usual cautions by name, for gauges of any kind.
void cautionsOf(const std::vector<std::string>& ofGauge, const std::vector<std::string>& ofPart,
                std::vector<Finding>& findings);

}  // namespace fg::rules
