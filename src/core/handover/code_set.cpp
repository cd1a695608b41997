#include "handover/code_set.h"

#include "bench/gauge_json.h"
#include "files/output_file.h"
#include "handover/code_thresholds.h"
#include "handover/setup_paper.h"
#include "papers/document.h"
#include "path/span_table.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <filesystem>
#include <system_error>

namespace fg {

CodeChoice codeChoice(const Gauge& gauge, const CodeWish& wish) {
    constexpr std::size_t kBands = 400;
    CodeChoice choice{wish.arithmetic, writeCode(gauge, wish), {}};
    if (const auto& code = choice.code; code && code->errorAt)
        choice.curve = errorBands(code->range, kBands, code->errorAt);
    return choice;
}

std::string codeReadme(const Gauge& gauge, const GaugeCode& code) {
    const std::string unit(code.unit->symbol);
    const auto size = [&](double value) { return significantDigits(value, 2) + " " + unit; };
    Paper paper;
    paper.title = gauge.spec().name;
    if (!gauge.spec().note.empty()) paper.lead.push_back(gauge.spec().note);
    paper.lead.push_back(fmt::format("{} {}", code.signature,
                                     code.scale == 1 ? fmt::format("gives {}.", unit)
                                                     : fmt::format("gives {} times {}.", unit, code.scale)));
    PaperSection proof;
    proof.heading = "Proof";
    const std::string where =
        code.atFrame.empty()
            ? fmt::format("over {} codes, {} to {}: worst error of the arithmetic {} at code {}", code.error.checked,
                          code.range.first, code.range.last, size(code.error.worst), code.error.atCode)
            : fmt::format("over {} {}: worst error of the arithmetic {} for {}", code.error.checked, code.checkedOver,
                          size(code.error.worst), code.atFrame);
    proof.paragraphs.push_back(fmt::format("{}. Run {}, mean {}; wanted {}: {}.", code.method, where,
                                           size(code.error.mean), size(code.wanted),
                                           code.holds() ? "held" : "not held"));
    proof.paragraphs.push_back(fmt::format(
        "{} bytes of constants and tables; about {} operations.{}{}", code.bytes, code.operations,
        code.memory > 0 ? fmt::format(" {} bytes of variables for its window.", code.memory) : std::string(),
        code.headroom() ? fmt::format(" Headroom to overflow {:.2f} times.", *code.headroom()) : std::string()));
    paper.sections.push_back(std::move(proof));
    PaperSection status;
    status.heading = "Status";
    status.table = {{"Name", "Number", "Means"}, {1}, {}};
    for (const CodeStatus& one : codeStatuses())
        status.table.rows.push_back({std::string(one.name), std::to_string(one.number), std::string(one.meaning)});
    paper.sections.push_back(std::move(status));
    if (const auto thresholds = codeThresholds(gauge); !thresholds.empty()) {
        PaperSection section;
        section.heading = "Thresholds";
        section.table = {{"Alarm", "Set at", "Write", "Or", "Switches at"}, {1, 4}, {}};
        for (const CodeThreshold& one : thresholds)
            section.table.rows.push_back({one.name, plainNumber(code.unit->fromCanonical(one.setAt), 6) + " " + unit,
                                          one.threshold.text(), one.threshold.strictText(),
                                          plainNumber(code.unit->fromCanonical(one.threshold.edge), 6) + " " + unit});
        paper.sections.push_back(std::move(section));
    }
    if (!code.findings.empty()) {
        PaperSection section;
        section.heading = "To know";
        for (const Finding& one : code.findings)
            section.paragraphs.push_back(fmt::format("{}: {}. {}", severityName(one.severity), one.title, one.detail));
        paper.sections.push_back(std::move(section));
    }
    return markdownOf(paper);
}

Expected<void> writeCodeFiles(const std::vector<CodeFile>& files, const std::string& folder) {
    std::error_code failed;
    std::filesystem::create_directories(folder, failed);
    if (failed) return fail(ErrorCode::Io, folder, failed.message(), "a folder that can be made");
    for (const CodeFile& file : files) {
        const auto output = OutputFile::open(std::filesystem::path(folder) / file.name);
        if (!output) return tl::unexpected(output.error());
        (*output)->write(file.text);
        if (const auto done = (*output)->commit(); !done) return done;
    }
    return {};
}

std::vector<CodeFile> folderFiles(const Gauge& gauge, const GaugeCode& code) {
    std::vector<CodeFile> files = code.files;
    files.push_back({"README.md", codeReadme(gauge, code)});
    files.push_back({"gauge.json", writeGauge(gauge.spec())});
    Paper setup;
    setup.title = gauge.spec().name + ": set-up";
    setup.sections = setupSections(gauge);
    if (!setup.sections.empty()) files.push_back({"registers.md", markdownOf(setup)});
    if (const AnalogPath* path = gauge.analog())
        if (const auto rows = spanTable(gauge.spec(), *path, niceStep(gauge.spec().reading.span.width())))
            files.push_back({"table.csv", spanTableCsv(gauge.spec(), *path, *rows)});
    return files;
}

Expected<void> writeCodeFolder(const Gauge& gauge, const GaugeCode& code, const std::string& folder) {
    return writeCodeFiles(folderFiles(gauge, code), folder);
}

}  // namespace fg
