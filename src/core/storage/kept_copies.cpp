#include "storage/kept_copies.h"

#include "storage/bench_file.h"

#include <fmt/format.h>
#include <boost/crc.hpp>

namespace fg {
namespace fs = std::filesystem;
namespace {

constexpr int kCopies = 3;

/// Benches of one name in different folders are different benches.
fs::path copyPath(const fs::path& benchPath, const fs::path& folder, int number) {
    std::error_code error;
    const std::string whole = fs::absolute(benchPath, error).lexically_normal().string();
    boost::crc_32_type crc;
    crc.process_bytes(whole.data(), whole.size());
    return folder /
           fmt::format("{}-{:08x}.{}.fairgauge", benchPath.stem().string().substr(0, 100), crc.checksum(), number);
}

}  // namespace

std::vector<fs::path> keptCopies(const fs::path& benchPath, const fs::path& folder) {
    std::vector<fs::path> copies;
    std::error_code error;
    for (int number = 1; number <= kCopies; ++number)
        if (const fs::path path = copyPath(benchPath, folder, number); fs::exists(path, error)) copies.push_back(path);
    return copies;
}

Expected<void> keepCopy(const Bench& bench, const fs::path& benchPath, const fs::path& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (error) return fail(ErrorCode::Io, folder.string(), error.message(), "a folder that can be written");
    const auto copies = keptCopies(benchPath, folder);
    if (!copies.empty())
        if (const auto newest = BenchFile::look(copies.front()); newest && newest->bench == bench) return {};
    // The copy is whole before the older ones move up.
    const fs::path fresh = copyPath(benchPath, folder, 0);
    fs::remove(fresh, error);
    if (const auto file = BenchFile::create(fresh, bench); !file) return tl::unexpected(file.error());
    for (int number = kCopies - 1; number >= 0; --number) {
        fs::rename(copyPath(benchPath, folder, number), copyPath(benchPath, folder, number + 1), error);
    }
    return {};
}

}  // namespace fg
