#pragma once

#include "bench/document.h"
#include "catalogue/catalogue.h"
#include "handover/raw_sender.h"

namespace fg {

/// The raw sender of a bench's gauges.
struct BenchSender {
    CodeFile file;
    std::vector<std::string> notes;
    std::map<std::int64_t, std::string> unbound;  ///< by id, gauges that do not listen yet to what is sent for them
};

/// Gauges that cannot be made are left out and told among the notes. Errors: Missing where none has a raw value.
[[nodiscard]] Expected<BenchSender> benchSender(const Bench& bench, const Catalogue& catalogue, const std::string& name,
                                                CodeLanguage language);

/// The gauges listen to what is sent for them.
void bindSent(Bench& bench, const BenchSender& sender);

}  // namespace fg
