#pragma once

#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>
#include <array>
#include <string>
#include <vector>

namespace fg::test {

struct Finished {
    int exitCode = -1;
    std::string out;
    std::string err;
};

/// Runs a program to its end with `input` on stdin.
inline Finished run(const std::string& program, const std::vector<std::string>& arguments,
                    const std::string& input = "") {
    std::array<int, 2> in{}, out{}, err{};
    if (::pipe(in.data()) || ::pipe(out.data()) || ::pipe(err.data())) return {};
    const pid_t child = ::fork();
    if (child == 0) {
        ::dup2(in[0], 0);
        ::dup2(out[1], 1);
        ::dup2(err[1], 2);
        for (const int descriptor : {in[0], in[1], out[0], out[1], err[0], err[1]}) ::close(descriptor);
        std::vector<char*> argv{const_cast<char*>(program.c_str())};
        for (const std::string& argument : arguments) argv.push_back(const_cast<char*>(argument.c_str()));
        argv.push_back(nullptr);
        ::execv(program.c_str(), argv.data());
        ::_exit(127);
    }
    ::close(in[0]);
    ::close(out[1]);
    ::close(err[1]);
    if (::write(in[1], input.data(), input.size()) < 0) return {};
    ::close(in[1]);
    Finished finished;
    const auto drain = [](int descriptor, std::string& text) {
        std::array<char, 4096> buffer{};
        for (ssize_t got = 0; (got = ::read(descriptor, buffer.data(), buffer.size())) > 0;)
            text.append(buffer.data(), static_cast<std::size_t>(got));
        ::close(descriptor);
    };
    drain(out[0], finished.out);
    drain(err[0], finished.err);
    int status = 0;
    ::waitpid(child, &status, 0);
    finished.exitCode = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    return finished;
}

}  // namespace fg::test
