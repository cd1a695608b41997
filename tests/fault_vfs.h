// A layer between SQLite and the file system that makes one operation go wrong: it fails, it is cut short, it takes
// long, the process dies there, or the power goes and takes with it what was not synchronised.
#pragma once

#include <sqlite3.h>
#include <unistd.h>
#include <cstring>
#include <string>
#include <vector>

namespace fg::test {

class FaultVfs {
  public:
    enum class Mode { None, Fail, Kill, PowerCut, Delay };

    /// From now on every database of this process is opened through it; operation `at` goes wrong.
    static void install(Mode mode, int at) {
        static sqlite3_vfs shim;
        static bool isRegistered = false;
        if (!isRegistered) {
            real() = sqlite3_vfs_find(nullptr);
            shim = *real();
            shim.zName = "fault";
            shim.szOsFile = static_cast<int>(sizeof(File)) + real()->szOsFile;
            shim.xOpen = open;
            shim.xDelete = remove;
            isRegistered = true;
        }
        state() = State{mode, at, 0, {}};
        sqlite3_vfs_register(&shim, 1);
    }
    static void uninstall() { sqlite3_vfs_register(real(), 1); }
    [[nodiscard]] static int operations() { return state().count; }

  private:
    /// What takes back one unsynchronised change.
    struct Undo {
        std::string path;
        sqlite3_int64 offset = 0, size = 0;
        std::string bytes;
        bool isDeletion = false;
    };
    struct State {
        Mode mode = Mode::None;
        int at = -1, count = 0;
        std::vector<Undo> unsynced;
    };
    struct File {
        sqlite3_file base;
        const char* path;
        sqlite3_file* inside() { return reinterpret_cast<sqlite3_file*>(this + 1); }
    };

    static State& state() {
        static State one;
        return one;
    }
    static sqlite3_vfs*& real() {
        static sqlite3_vfs* one = nullptr;
        return one;
    }
    static File& of(sqlite3_file* file) { return *reinterpret_cast<File*>(file); }
    static sqlite3_file* in(sqlite3_file* file) { return of(file).inside(); }

    static bool isDue() {
        if (state().count++ != state().at) return false;
        if (state().mode != Mode::Delay) return true;
        constexpr useconds_t kLong_us = 30000;
        ::usleep(kLong_us);
        return false;
    }
    [[noreturn]] static void die() {
        if (state().mode == Mode::PowerCut)
            for (auto undo = state().unsynced.rbegin(); undo != state().unsynced.rend(); ++undo) takeBack(*undo);
        ::_exit(77);
    }
    static void takeBack(const Undo& undo) {
        FILE* file = std::fopen(undo.path.c_str(), undo.isDeletion ? "w" : "r+");
        if (!file) return;
        std::fseek(file, static_cast<long>(undo.offset), SEEK_SET);
        std::fwrite(undo.bytes.data(), 1, undo.bytes.size(), file);
        std::fflush(file);
        if (!undo.isDeletion && ::ftruncate(::fileno(file), undo.size) != 0) {
            std::fclose(file);
            ::_exit(78);
        }
        std::fclose(file);
    }
    /// Remembers what stands in a range before it is written over.
    static void remember(sqlite3_file* file, sqlite3_int64 offset, int count) {
        if (!of(file).path) return;
        Undo undo{of(file).path, offset, 0, std::string(static_cast<std::size_t>(count), '\0'), false};
        in(file)->pMethods->xFileSize(in(file), &undo.size);
        const sqlite3_int64 there = undo.size > offset ? undo.size - offset : 0;
        undo.bytes.resize(static_cast<std::size_t>(there < count ? there : count));
        if (!undo.bytes.empty())
            in(file)->pMethods->xRead(in(file), undo.bytes.data(), static_cast<int>(undo.bytes.size()), offset);
        state().unsynced.push_back(std::move(undo));
    }

    static int open(sqlite3_vfs*, const char* name, sqlite3_file* file, int flags, int* out) {
        static sqlite3_io_methods methods = makeMethods();
        of(file).base.pMethods = nullptr;
        of(file).path = name;
        if ((flags & SQLITE_OPEN_CREATE) && isDue()) {
            if (state().mode == Mode::Fail) return SQLITE_CANTOPEN;
            if (state().mode != Mode::None) die();
        }
        const int code = real()->xOpen(real(), name, in(file), flags, out);
        if (code == SQLITE_OK) of(file).base.pMethods = &methods;
        return code;
    }
    static int remove(sqlite3_vfs*, const char* name, int syncFolder) {
        if (isDue()) {
            if (state().mode == Mode::Fail) return SQLITE_IOERR_DELETE;
            if (state().mode != Mode::None) die();
        }
        if (!syncFolder) {
            // Not synchronised: after a power cut the name may be back.
            Undo undo{name, 0, 0, {}, true};
            if (FILE* file = std::fopen(name, "r")) {
                char block[4096];
                for (std::size_t got = 0; (got = std::fread(block, 1, sizeof block, file)) > 0;)
                    undo.bytes.append(block, got);
                std::fclose(file);
                state().unsynced.push_back(std::move(undo));
            }
        }
        return real()->xDelete(real(), name, syncFolder);
    }
    static int write(sqlite3_file* file, const void* bytes, int count, sqlite3_int64 offset) {
        remember(file, offset, count);
        if (isDue() && state().mode != Mode::None) {
            in(file)->pMethods->xWrite(in(file), bytes, count / 2, offset);  // half of it gets there
            if (state().mode == Mode::Fail) return SQLITE_FULL;
            die();
        }
        return in(file)->pMethods->xWrite(in(file), bytes, count, offset);
    }
    static int truncate(sqlite3_file* file, sqlite3_int64 size) {
        sqlite3_int64 now = 0;
        in(file)->pMethods->xFileSize(in(file), &now);
        if (now > size) remember(file, size, static_cast<int>(now - size));
        if (isDue() && state().mode != Mode::None) {
            if (state().mode == Mode::Fail) return SQLITE_IOERR_TRUNCATE;
            die();
        }
        return in(file)->pMethods->xTruncate(in(file), size);
    }
    static int sync(sqlite3_file* file, int flags) {
        if (isDue() && state().mode != Mode::None) {
            if (state().mode == Mode::Fail) return SQLITE_IOERR_FSYNC;
            die();
        }
        const int code = in(file)->pMethods->xSync(in(file), flags);
        if (code == SQLITE_OK && of(file).path)
            std::erase_if(state().unsynced, [&](const Undo& undo) { return undo.path == of(file).path; });
        return code;
    }

    static sqlite3_io_methods makeMethods() {
        sqlite3_io_methods methods{};
        methods.iVersion = 2;
        methods.xClose = [](sqlite3_file* file) { return in(file)->pMethods->xClose(in(file)); };
        methods.xRead = [](sqlite3_file* file, void* bytes, int count, sqlite3_int64 offset) {
            return in(file)->pMethods->xRead(in(file), bytes, count, offset);
        };
        methods.xWrite = write;
        methods.xTruncate = truncate;
        methods.xSync = sync;
        methods.xFileSize = [](sqlite3_file* file, sqlite3_int64* size) {
            return in(file)->pMethods->xFileSize(in(file), size);
        };
        methods.xLock = [](sqlite3_file* file, int level) { return in(file)->pMethods->xLock(in(file), level); };
        methods.xUnlock = [](sqlite3_file* file, int level) { return in(file)->pMethods->xUnlock(in(file), level); };
        methods.xCheckReservedLock = [](sqlite3_file* file, int* out) {
            return in(file)->pMethods->xCheckReservedLock(in(file), out);
        };
        methods.xFileControl = [](sqlite3_file* file, int what, void* with) {
            return in(file)->pMethods->xFileControl(in(file), what, with);
        };
        methods.xSectorSize = [](sqlite3_file* file) { return in(file)->pMethods->xSectorSize(in(file)); };
        methods.xShmMap = [](sqlite3_file* file, int page, int size, int extend, void volatile** out) {
            return in(file)->pMethods->xShmMap(in(file), page, size, extend, out);
        };
        methods.xShmLock = [](sqlite3_file* file, int offset, int count, int flags) {
            return in(file)->pMethods->xShmLock(in(file), offset, count, flags);
        };
        methods.xShmBarrier = [](sqlite3_file* file) { in(file)->pMethods->xShmBarrier(in(file)); };
        methods.xShmUnmap = [](sqlite3_file* file, int remove) {
            return in(file)->pMethods->xShmUnmap(in(file), remove);
        };
        // Nothing is taken for granted of the device: no atomic writes, no order.
        methods.xDeviceCharacteristics = [](sqlite3_file*) { return 0; };
        return methods;
    }
};

}  // namespace fg::test
