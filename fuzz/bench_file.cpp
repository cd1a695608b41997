// A bench file of any bytes: looked at, checked, salvaged; it stays as it is.
#include "storage/bench_file.h"
#include "storage/salvage.h"
#include "target.h"

#include <unistd.h>
#include <fstream>
#include <iterator>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const std::string path = "/tmp/fair-gauge-fuzz-" + std::to_string(::getpid()) + ".fairgauge";
    {
        std::ofstream file(path, std::ios::binary);
        file.write(reinterpret_cast<const char*>(data), static_cast<std::streamsize>(size));
    }
    (void)BenchFile::look(path);
    (void)BenchFile::check(path);
    (void)salvage(path);
    std::ifstream file(path, std::ios::binary);
    const std::string after((std::istreambuf_iterator<char>(file)), std::istreambuf_iterator<char>());
    fuzz::expect(after == fuzz::textOf(data, size));
    return 0;
}
