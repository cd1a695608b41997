#pragma once

#include "handover/sequence_text.h"

#include <set>

namespace fg {

/// One channel of the lines that a raw sender prints.
struct SentChannel {
    std::string channel, id;         ///< in the lines; in the program
    std::string about;               ///< the gauges that listen to it
    std::string settings;            ///< of its part, as the first gauge says them
    std::vector<std::string> setup;  ///< words of an analog gauge's converter, for a comment
    bool isDigital = false;
    std::vector<CodeParameter> blocks;  ///< of a digital part: coefficients and results
    std::vector<std::string> measured;  ///< those blocks that are sent
    SequenceText sequence;
    std::string missing;  ///< why reading it is left to the maker; empty where it is written

    /// Does the program read it by itself, over its bus?
    [[nodiscard]] bool isWritten() const { return isDigital && missing.empty(); }
    [[nodiscard]] bool isMeasured(const std::string& block) const;
    /// What stands before a block's bytes where they are told to a person: "88: ".
    [[nodiscard]] static std::string labelOf(const CodeParameter& block);
};

/// Everything that is sent.
struct SentChannels {
    std::string about;  ///< what the program is, for its first lines
    std::vector<SentChannel> channels;
    std::set<BusKind> buses;  ///< over which parts are read

    [[nodiscard]] bool hasAnalog() const;
    [[nodiscard]] bool hasWritten() const;
    [[nodiscard]] bool hasLeft() const;
    /// Which number is which channel, a line each: analog ones, or those digital ones that are left to the maker.
    [[nodiscard]] std::string list(bool isDigital, const char* indent) const;
};

[[nodiscard]] std::string senderInC(const SentChannels& sent);
[[nodiscard]] std::string senderInPython(const SentChannels& sent);

}  // namespace fg
