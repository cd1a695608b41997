#pragma once

#include "storage/recording_rows.h"

#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>

namespace fg {

template <class Look>
auto RecordingRows::guarded(const Look& look) const -> decltype(look()) {
    const std::lock_guard lock(m_guard);
    try {
        return look();
    } catch (const SQLite::Exception& error) {
        const int code = error.getErrorCode();
        const bool isDamaged = code == SQLITE_CORRUPT || code == SQLITE_NOTADB;
        return fail(isDamaged ? ErrorCode::Damaged : ErrorCode::Io, m_file, error.what(),
                    isDamaged ? "intact recordings" : "a disk that takes what is recorded");
    }
}

}  // namespace fg
