#include "sources/source.h"

#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <filesystem>
#include <optional>
#include <string_view>
#include <vector>

namespace fg {
namespace {

namespace fs = std::filesystem;

/// One value: its file, the channel, and what it is.
struct KernelFile {
    enum class Kind { Slave, Raw, Milli };
    fs::path path;
    std::string channel;
    Kind kind = Kind::Raw;
    std::string unit;      ///< of a reading in thousandths, or of a raw value once it is scaled
    bool isMilli = false;  ///< scaled, it is in thousandths of that unit
};

/// The end of a name of a file, and what stands in it. Sources: Linux kernel documentation, ABI/testing/sysfs-bus-iio
/// (raw counts; "input" is processed: m°C, m%, kPa, lx), hwmon/sysfs-interface (m°C, m%, mV), w1/slaves/w1_therm
/// (w1_slave).
std::optional<KernelFile> kernelFileOf(const fs::path& path) {
    const std::string name = path.filename().string();
    const std::string folder = path.parent_path().filename().string();
    const auto named = [&](std::string channel, KernelFile::Kind kind, std::string unit) {
        for (char& c : channel)
            if (!std::isalnum(static_cast<unsigned char>(c)) && c != '_' && c != '-' && c != '.') c = '_';
        if (!std::isalpha(static_cast<unsigned char>(channel[0]))) channel = "w1_" + channel;
        return KernelFile{path, std::move(channel), kind, std::move(unit), false};
    };
    const auto stem = [&](std::string_view ending) { return name.substr(0, name.size() - ending.size()); };
    if (name == "w1_slave") return named(folder, KernelFile::Kind::Slave, "");
    if (name.starts_with("in_") && name.ends_with("_raw")) {
        KernelFile file = named(stem("_raw"), KernelFile::Kind::Raw, "");
        const auto is = [&](std::string_view kind) { return name.starts_with("in_" + std::string(kind)); };
        if (is("voltage")) file.unit = "mV";
        if (is("current")) file.unit = "mA";
        if (is("pressure")) file.unit = "kPa";
        if (is("illuminance")) file.unit = "lx";
        if (is("temp")) {
            file.unit = "C";
            file.isMilli = true;
        }
        if (is("humidityrelative")) {
            file.unit = "%";
            file.isMilli = true;
        }
        return file;
    }
    if (name.starts_with("in_temp") && name.ends_with("_input"))
        return named(stem("_input"), KernelFile::Kind::Milli, "C");
    if (name.starts_with("in_humidityrelative") && name.ends_with("_input"))
        return named(stem("_input"), KernelFile::Kind::Milli, "%");
    if (name.starts_with("temp") && name.ends_with("_input"))
        return named(stem("_input"), KernelFile::Kind::Milli, "C");
    if (name.starts_with("humidity") && name.ends_with("_input"))
        return named(stem("_input"), KernelFile::Kind::Milli, "%");
    return std::nullopt;
}

/// A whole number that stands alone in a file; nothing for anything else.
std::optional<double> numberIn(std::string_view text) {
    while (!text.empty() && (text.back() == '\n' || text.back() == ' ')) text.remove_suffix(1);
    double value = 0;
    const auto [stop, status] = std::from_chars(text.data(), text.data() + text.size(), value);
    return status == std::errc{} && stop == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

/// "50 05 4b 46 7f ff 0c 10 1c : crc=1c YES": the nine bytes of the scratchpad.
std::string scratchpadOf(const std::string& text) {
    const std::size_t colon = text.find(" :");
    constexpr std::size_t kNineBytes = 26;
    return colon == kNineBytes ? text.substr(0, kNineBytes) : std::string();
}

class KernelFiles final : public Source {
  public:
    explicit KernelFiles(std::string folder) : m_folder(std::move(folder)) {}
    std::string name() const override { return m_folder; }

    Given take(double now_s) override {
        Given given;
        if (now_s < m_next_s) return given;
        m_next_s = std::max(m_next_s + kInterval_s, now_s + kInterval_s / 2);
        // Parts are plugged in and out while the program runs.
        if (m_files.empty() || ++m_rounds % kLookEvery == 0) look();
        // Counts and bytes in one line, readings with units in another: a line is of one kind.
        std::string raw, said;
        for (const KernelFile& file : m_files) append(file, raw, said);
        for (const std::string& values : {raw, said})
            if (!values.empty()) given.pieces.push_back({now_s, values.substr(1) + "\n"});
        if (given.pieces.empty()) given.problem = fmt::format("{}: nothing there can be read", m_folder);
        return given;
    }
    double quietFor_s(double now_s) const override { return std::clamp(m_next_s - now_s, 0.0, 0.1); }

    /// Finds the files: below the folder, links of it followed, a few levels deep.
    bool look() {
        m_files.clear();
        constexpr int kDeepest = 3;
        std::error_code error;
        fs::recursive_directory_iterator it(m_folder,
                                            fs::directory_options::follow_directory_symlink |
                                                fs::directory_options::skip_permission_denied,
                                            error);
        for (; !error && it != fs::recursive_directory_iterator(); it.increment(error)) {
            // The kernel's folders link back to one another.
            if (it.depth() >= kDeepest) it.disable_recursion_pending();
            if (auto file = kernelFileOf(it->path())) m_files.push_back(std::move(*file));
        }
        std::sort(m_files.begin(), m_files.end(),
                  [](const KernelFile& a, const KernelFile& b) { return a.path < b.path; });
        m_files.erase(std::unique(m_files.begin(), m_files.end(),
                                  [](const KernelFile& a, const KernelFile& b) { return a.channel == b.channel; }),
                      m_files.end());
        return !m_files.empty();
    }

  private:
    static void append(const KernelFile& file, std::string& raw, std::string& said) {
        const auto text = readTextFile(file.path, "a file of the kernel");
        if (!text) return;  // a part that was just pulled out
        if (file.kind == KernelFile::Kind::Slave) {
            if (const std::string bytes = scratchpadOf(*text); !bytes.empty())
                raw += fmt::format(" {}={}", file.channel, bytes);
            return;
        }
        const auto number = numberIn(*text);
        if (!number) return;
        constexpr double kThousand = 1000;
        if (file.kind == KernelFile::Kind::Milli) {
            said += fmt::format(" {}={:.3f}{}", file.channel, *number / kThousand, file.unit);
            return;
        }
        raw += fmt::format(" {}={}", file.channel, *number);
        const auto scale = neighbour(file, "_scale");
        if (!scale || file.unit.empty()) return;
        const double value = (*number + neighbour(file, "_offset").value_or(0)) * *scale;
        said += fmt::format(" {}_said={:.3f}{}", file.channel, file.isMilli ? value / kThousand : value, file.unit);
    }

    /// in_voltage0_scale, or in_voltage_scale for all channels of that kind.
    static std::optional<double> neighbour(const KernelFile& file, const char* ending) {
        std::string all = file.channel;
        while (!all.empty() && std::isdigit(static_cast<unsigned char>(all.back()))) all.pop_back();
        for (const std::string& name : {file.channel, all})
            if (const auto text = readTextFile(file.path.parent_path() / (name + ending), "a number"))
                if (const auto number = numberIn(*text)) return number;
        return std::nullopt;
    }

    static constexpr double kInterval_s = 1;
    static constexpr unsigned kLookEvery = 10;
    std::string m_folder;
    std::vector<KernelFile> m_files;
    double m_next_s = 0;
    unsigned m_rounds = 0;
};

}  // namespace

Expected<std::unique_ptr<Source>> sysfsSource(const std::string& folder) {
    std::error_code error;
    if (!fs::is_directory(folder, error))
        return fail(ErrorCode::Io, folder, "no folder",
                    "one with kernel files: /sys/bus/w1/devices, /sys/bus/iio/devices");
    auto source = std::make_unique<KernelFiles>(folder);
    if (!source->look())
        return fail(ErrorCode::Missing, folder, "no file that is known",
                    "w1_slave, in_…_raw, temp…_input or humidity…_input below it");
    return source;
}

}  // namespace fg
