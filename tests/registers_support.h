// What the tests of registers and of commands ask of a map of the shipped catalogue.
#pragma once

#include "bytes/dump_text.h"
#include "registers/bus_transaction.h"
#include "support.h"
#include "timing/consequences.h"

namespace fg::test {

inline const RegisterMap& mapOf(const std::string& part) { return *catalogue().findRegisterMap(part); }

inline std::vector<RegisterWord> wordsOf(const std::string& part, const std::string& dump) {
    return mapOf(part).words(readDump(dump).value()).value();
}

/// The words of settings, or why there are none.
inline Expected<std::vector<RegisterWord>> wordsFor(const std::string& part, const std::string& settings) {
    return mapOf(part).set(RegisterMap::readSettings(settings).value());
}

inline std::string meaning(const std::string& part, const std::string& dump, const std::string& field) {
    const auto words = wordsOf(part, dump);
    for (const FieldValue& value : mapOf(part).explain(words))
        if (value.field->id == field) return value.text;
    return "nothing";
}

/// −1 where the device has no such consequence.
inline double consequence(const std::string& part, const std::string& settings, const std::string& id) {
    const auto words = wordsFor(part, settings).value();
    for (const Consequence& one : consequencesOf(mapOf(part), mapOf(part).all(words)))
        if (one.id == id) return one.value;
    return -1;
}

/// Everything that the words of settings need on a bus, a line each: "write: S EC A F4 A 27 A P".
inline std::string transactions(const std::string& part, const std::string& settings, const BusSite& site) {
    std::string text;
    const auto add = [&](const std::vector<Transaction>& list) {
        for (const Transaction& one : list) {
            if (!text.empty()) text += '\n';
            text += one.title + ": " + transactionText(one.steps);
        }
    };
    const auto words = wordsFor(part, settings).value();
    for (const RegisterWord& word : words) add(transactionsOf(word, site));
    add(scratchpadTransactions(mapOf(part), words, site));
    return text;
}

}  // namespace fg::test
