#include "reports/bench_sender.h"

#include <fmt/format.h>

namespace fg {

Expected<BenchSender> benchSender(const Bench& bench, const Catalogue& catalogue, const std::string& name,
                                  CodeLanguage language) {
    BenchSender sender;
    std::vector<Gauge> gauges;
    std::vector<std::int64_t> ids;
    for (const BenchGauge& one : bench.gauges) {
        auto gauge = Gauge::make(one.spec, catalogue);
        if (!gauge) {
            sender.notes.push_back(fmt::format("“{}” is left out: {}", one.spec.name, gauge.error().message()));
            continue;
        }
        gauges.push_back(std::move(*gauge));
        ids.push_back(one.id);
    }
    auto sent = rawSender(gauges, name, language);
    if (!sent) return tl::unexpected(sent.error());
    sender.file = std::move(sent->file);
    sender.notes.insert(sender.notes.end(), sent->notes.begin(), sent->notes.end());
    for (const auto& [i, channel] : sent->channels) sender.unbound[ids[i]] = channel;
    return sender;
}

void bindSent(Bench& bench, const BenchSender& sender) {
    for (BenchGauge& one : bench.gauges)
        if (const auto it = sender.unbound.find(one.id); it != sender.unbound.end()) one.spec.channel = it->second;
}

}  // namespace fg
