#include "storage/quiet_view.h"

#include "files/new_file.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <stdlib.h>
#include <array>
#include <cctype>
#include <fstream>

namespace fg {
namespace fs = std::filesystem;
namespace {

constexpr int kWait_ms = 2000;
constexpr std::array kBeside{"-journal", "-wal"};

/// A path as SQLite's URI file names have it.
std::string uriOf(const fs::path& path) {
    std::string uri = "file:";
    for (const char each : path.string()) {
        const auto byte = static_cast<unsigned char>(each);
        if (std::isalnum(byte) || each == '/' || each == '.' || each == '-' || each == '_')
            uri += each;
        else
            uri += fmt::format("%{:02X}", byte);
    }
    return uri;
}

bool hasContent(const fs::path& path) {
    std::error_code error;
    const auto size = fs::file_size(path, error);
    return !error && size > 0;
}

/// Byte 18 of the header: written by an earlier version, which kept changes in a second file (SQLite file
/// format, 1.3.3).
bool isWriteAhead(const fs::path& path) {
    std::ifstream file(path, std::ios::binary);
    file.seekg(18);
    return file.get() == 2;
}

}  // namespace

QuietView::QuietView() = default;

QuietView::~QuietView() {
    m_database.reset();
    std::error_code error;
    if (!m_copyFolder.empty()) fs::remove_all(m_copyFolder, error);
}

Expected<std::unique_ptr<QuietView>> QuietView::open(const fs::path& path, bool isAlone) {
    std::unique_ptr<QuietView> view(new QuietView);
    bool isUnfinished = false;
    for (const char* ending : kBeside) isUnfinished = isUnfinished || hasContent(path.string() + ending);
    if (isAlone && isUnfinished) {
        std::error_code error;
        std::string folder = (fs::temp_directory_path(error) / "fair-gauge-XXXXXX").string();
        if (error || !::mkdtemp(folder.data())) return systemError(ErrorCode::Io, folder, "a temporary folder");
        view->m_copyFolder = folder;
        const fs::path copy = view->m_copyFolder / "bench";
        fs::copy_file(path, copy, error);
        for (const char* ending : kBeside)
            if (!error && hasContent(path.string() + ending))
                fs::copy_file(path.string() + ending, copy.string() + ending, error);
        if (error) return fail(ErrorCode::Io, folder, error.message(), "room for a copy of the bench");
        fs::permissions(copy, fs::perms::owner_all, fs::perm_options::replace, error);
        view->m_database =
            std::make_unique<SQLite::Database>(copy.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_NOMUTEX, kWait_ms);
        return view;
    }
    // Nobody writes it, or nobody could without a second file: its pages can be read as they stand.
    const bool standsStill = isAlone || (isWriteAhead(path) && !isUnfinished);
    view->m_database =
        std::make_unique<SQLite::Database>(uriOf(path) + (standsStill ? "?immutable=1" : "?mode=ro"),
                                           SQLite::OPEN_READONLY | SQLite::OPEN_URI | SQLite::OPEN_NOMUTEX, kWait_ms);
    return view;
}

}  // namespace fg
