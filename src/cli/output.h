// The command line `fgauge`: one file a verb over the same core as the window.
#pragma once

#include "catalogue/catalogue.h"
#include "findings/finding.h"
#include "json/json_text.h"
#include "path/signal_path.h"
#include "storage/bench_file.h"

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace fg::cli {

/// Exit codes of fgauge; part of its public interface.
inline constexpr int kFine = 0;
inline constexpr int kFault = 1;
inline constexpr int kBadInput = 2;

/// Writes the error as one line to stderr and returns kBadInput.
int refuse(const Error& error);

/// The same for a wrong command line; says where help is.
int refuseUsage(const std::string& what);

/// A number for JSON: null for NaN and infinities, which JSON does not have.
[[nodiscard]] nlohmann::ordered_json jsonNumber(double value);

/// One object on stdout, indented.
void printJsonText(const nlohmann::ordered_json& json);

[[nodiscard]] nlohmann::ordered_json stagesJson(const Evaluation& evaluation);
[[nodiscard]] nlohmann::ordered_json traceJson(const TraceLine& line);
[[nodiscard]] nlohmann::ordered_json traceJson(const std::vector<TraceLine>& lines);
[[nodiscard]] nlohmann::ordered_json findingsJson(const std::vector<Finding>& findings);

void printTrace(const std::vector<TraceLine>& lines);
void printFindings(const std::vector<Finding>& findings);

/// Text of anywhere (a name, a file's content) for the terminal: in one line, without control characters.
[[nodiscard]] std::string plainLine(std::string_view text);

/// Gauges of a bench file that cannot be read: told on stderr.
void warnOfUnread(const StoredBench& stored);

/// The catalogue of this installation; its problems go to stderr.
[[nodiscard]] const Catalogue& catalogue();

}  // namespace fg::cli
