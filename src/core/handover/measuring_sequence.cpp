#include "handover/measuring_sequence.h"

#include "timing/consequences.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

using Words = std::vector<RegisterWord>;

/// What the host sends in a transaction, without the bus address.
std::vector<std::uint8_t> sentBytes(const Transaction& transaction, BusKind kind) {
    std::vector<std::uint8_t> bytes;
    bool isAddress = kind == BusKind::TwoWire;
    for (const BusStep& step : transaction.steps) {
        if (step.kind != BusStep::Kind::Byte) continue;
        if (step.byMaster && !isAddress) bytes.push_back(step.byte);
        isAddress = false;
    }
    return bytes;
}

class Maker {
  public:
    Maker(const DigitalPath& path, const RegisterMap* map, Words words, const std::vector<std::string>& wanted)
        : m_part(path.part()), m_map(map), m_words(std::move(words)), m_rom(path.rom()) {
        m_sequence.site = {busKindOf(m_part.interface), path.address().value_or(0)};
        for (const BlockSpec& block : m_part.device->blocks(path.options()))
            if (wanted.empty() ? !block.isOptional
                               : std::find(wanted.begin(), wanted.end(), block.name) != wanted.end())
                m_blocks.push_back(block);
        sortWords();
    }

    MeasuringSequence make() {
        if (m_sequence.site.kind == BusKind::None)
            m_sequence.missing = "its interface (" + m_part.interface + ") is not known here";
        else if (m_sequence.site.kind == BusKind::OneWire)
            makeOneWire();
        else if (!m_part.measure.empty())
            makeAsWritten();
        else if (m_map && m_map->hasCommands())
            makeOfCommands();
        else
            makeOfRegisters();
        if (m_sequence.missing.empty()) noteSkipped();
        return std::move(m_sequence);
    }

  private:
    using Steps = std::vector<SequenceStep>;

    [[nodiscard]] double conversion_s(const Words& words) const {
        double time = m_part.minimumInterval_s;
        bool isStated = false;
        if (m_map)
            for (const Consequence& one : consequencesOf(*m_map, m_map->all(words)))
                if (one.id == "conversion_max_s" || (one.id == "conversion_s" && !isStated)) {
                    time = one.value;
                    isStated = one.id == "conversion_max_s";
                }
        return time;
    }

    [[nodiscard]] double period_s(const Words& words) const {
        double time = 0;
        if (m_map)
            for (const Consequence& one : consequencesOf(*m_map, m_map->all(words)))
                if (one.id == "period_s") time = one.value;
        return std::max(time, conversion_s(words));
    }

    /// What a word sets, in words: of a register those fields alone that are not as after power-on.
    [[nodiscard]] std::string reason(const RegisterWord& word) const {
        std::string text;
        for (const FieldValue& value : m_map->explain(std::span(&word, 1))) {
            if (value.field->isReadOnly) continue;
            if (word.in->form == WordForm::Register && word.in->isResetKnown && word.word != word.in->reset &&
                word.in->codeIn(*value.field, word.in->reset) == value.code)
                continue;
            text += fmt::format("{}{} {}", text.empty() ? ": " : ", ", value.field->title, value.text);
        }
        return word.in->name + text;
    }

    void write(Steps& steps, const RegisterWord& word) {
        for (const Transaction& one : transactionsOf(word, m_sequence.site))
            if (one.title == "write" || one.title == "send")
                steps.push_back({sentBytes(one, m_sequence.site.kind), 0, "", 0, 0, false, reason(word)});
    }

    void setWords(const std::vector<Setting>& settings) {
        if (const auto changed = m_map->set(settings, m_words)) m_words = *changed;
        sortWords();
    }

    /// In the order of the map, which is the one to write them in.
    void sortWords() {
        std::stable_sort(m_words.begin(), m_words.end(),
                         [](const RegisterWord& a, const RegisterWord& b) { return a.in < b.in; });
    }

    /// A reading that its settings leave out is no reading.
    void noteSkipped() {
        if (!m_map) return;
        for (const FieldValue& value : m_map->all(m_words))
            if (value.text == "skipped")
                m_sequence.notes.push_back(value.field->title + " is skipped: the part gives no value of it");
    }

    /// How it is to measure: as the gauge sets it, or once for each reading where it says nothing.
    Measuring decide() {
        const Measuring how = m_map->measuringWith(m_words);
        // The word that starts it is written each time, though it holds what it held after power-on.
        if (how == Measuring::Once) setWords(m_map->measuring.once);
        if (how != Measuring::Rests) return how;
        const MeasuringSettings& can = m_map->measuring;
        const auto& chosen = can.once.empty() ? can.always : can.once;
        if (chosen.empty()) return Measuring::Rests;
        setWords(chosen);
        std::string text;
        for (const Setting& one : chosen) text += (text.empty() ? "" : ", ") + one.id + "=" + one.value;
        m_sequence.notes.push_back("the gauge sets no mode in which it measures: here " + text);
        return can.once.empty() ? Measuring::Always : Measuring::Once;
    }

    [[nodiscard]] bool starts(const Register& in, const std::vector<Setting>& settings) const {
        return std::any_of(settings.begin(), settings.end(),
                           [&](const Setting& one) { return m_map->findField(one.id).first == &in; });
    }

    void read(Steps& steps, const BlockSpec& block) {
        SequenceStep step;
        if (block.address) {
            unsigned pointer = *block.address;
            const bool isBurst = block.size > 1 && m_map && m_map->measuring.burstFlag;
            if (isBurst) pointer |= m_map->measuring.burstFlag;
            for (std::size_t i = m_map ? m_map->registers.front().pointerBytes : 1; i-- > 0;)
                step.out.push_back(static_cast<std::uint8_t>(pointer >> 8 * i));
        }
        step.in = block.size;
        step.block = block.name;
        step.why = block.isCalibration ? "its coefficients" : "the result";
        step.at = readSoFar(block);
        steps.push_back(std::move(step));
    }

    /// Several blocks of one name follow one another.
    [[nodiscard]] std::size_t readSoFar(const BlockSpec& block) const {
        std::size_t at = 0;
        for (const BlockSpec& one : m_blocks) {
            if (&one == &block) break;
            if (one.name == block.name) at += one.size;
        }
        return at;
    }

    void makeOfRegisters() {
        const bool hasAddresses = std::all_of(m_blocks.begin(), m_blocks.end(),
                                              [](const BlockSpec& block) { return block.address.has_value(); });
        if (!hasAddresses && m_sequence.site.kind == BusKind::TwoWire) {
            m_sequence.missing = "how it is told to measure is not written down here";
            return;
        }
        if (!m_map) {
            for (const BlockSpec& block : m_blocks)
                read(block.isCalibration ? m_sequence.once : m_sequence.each, block);
            waitAfter(m_sequence.once, conversion_s(m_words));
            return;
        }
        const Measuring how = decide();
        if (how == Measuring::Rests) {
            m_sequence.missing = "how it is made to measure is not written down here";
            return;
        }
        const bool isOnce = how == Measuring::Once;
        const auto& start = isOnce ? m_map->measuring.once : m_map->measuring.always;
        // The word that starts it goes last, so that the others are in force.
        for (const RegisterWord& word : m_words)
            if (!word.in->isReadOnly && !starts(*word.in, start)) write(m_sequence.once, word);
        Steps& starting = isOnce ? m_sequence.each : m_sequence.once;
        for (const RegisterWord& word : m_words)
            if (!word.in->isReadOnly && starts(*word.in, start)) write(starting, word);
        if (isOnce && !starting.empty()) starting.back().wait_s = conversion_s(m_words);
        for (const BlockSpec& block : m_blocks) read(block.isCalibration ? m_sequence.once : m_sequence.each, block);
        // What stood in its result registers before is not asked for.
        if (!isOnce) waitAfter(m_sequence.once, period_s(m_words) + conversion_s(m_words));
    }

    static void waitAfter(Steps& steps, double wait_s) {
        if (steps.empty()) steps.push_back({{}, 0, "", 0, 0, false, "it measures by itself"});
        steps.back().wait_s += wait_s;
    }

    // Commands.

    struct Asking {
        const Register* in = nullptr;
        std::string text;  ///< of the field that chooses the block
    };

    /// The commands whose answer is a block; those that are set so already come first.
    [[nodiscard]] std::vector<Asking> askingFor(const std::string& block) const {
        std::vector<Asking> found;
        const auto values = m_map->all(m_words);
        for (const Register& in : m_map->registers) {
            if (in.answer.bytes == 0) continue;
            if (in.answer.block == block) found.push_back({&in, ""});
            for (const auto& [text, of] : in.answer.blocks) {
                if (of != block) continue;
                const bool isSet =
                    std::any_of(values.begin(), values.end(), [&, &said = text](const FieldValue& value) {
                        return value.field->id == in.answer.by && value.text == said;
                    });
                found.insert(isSet ? found.begin() : found.end(), {&in, text});
            }
        }
        return found;
    }

    [[nodiscard]] RegisterWord wordOf(const Register& in, const Words& words) const {
        const auto it =
            std::find_if(words.begin(), words.end(), [&](const RegisterWord& one) { return one.in == &in; });
        return it == words.end() ? RegisterWord{&in, in.reset} : *it;
    }

    [[nodiscard]] Words with(const std::string& id, const std::string& value) const {
        return m_map->set(std::vector<Setting>{{id, value}}, m_words).value_or(m_words);
    }

    void makeOfCommands() {
        const bool isStated = !m_map->measuring.once.empty() || !m_map->measuring.always.empty();
        // Without a choice it measures once for each command.
        const Measuring how = !isStated                    ? Measuring::Once
                              : m_map->isRepeated(m_words) ? Measuring::Always
                                                           : Measuring::Once;
        if (isStated && how == Measuring::Once) setWords(m_map->measuring.once);
        for (const RegisterWord& word : m_words) {
            const bool isSetting = word.in->form == WordForm::Register
                                       ? !word.in->isReadOnly
                                       : word.in->role == CommandRole::Sets && word.in->answer.bytes == 0;
            if (isSetting) write(isEachTime(*word.in, how) ? m_sequence.each : m_sequence.once, word);
        }
        for (const BlockSpec& block : m_blocks)
            if (const auto asking = askingFor(block.name); asking.empty())
                m_sequence.missing = "which command gives its " + block.name + " is not written down here";
            else
                ask(block, asking, how);
    }

    /// Commands that a single measurement undoes: one that measures once powers down after it.
    [[nodiscard]] bool isEachTime(const Register& in, Measuring how) const {
        return how == Measuring::Once && in.form == WordForm::Command && starts(in, m_map->measuring.once);
    }

    void ask(const BlockSpec& block, const std::vector<Asking>& asking, Measuring how) {
        const auto measures = [](const Asking& one) { return one.in->role == CommandRole::Measures; };
        const auto byMeasuring = std::find_if(asking.begin(), asking.end(), measures);
        const auto byReading = std::find_if_not(asking.begin(), asking.end(), measures);
        if (block.isCalibration && byReading != asking.end()) return readInPieces(block, *byReading->in);
        if (how == Measuring::Always) {
            const RegisterWord start = wordOf(*measuring(), m_words);
            if (!m_isStarted) {
                write(m_sequence.once, start);
                waitAfter(m_sequence.once, period_s(m_words) + conversion_s(m_words));
            }
            m_isStarted = true;
            if (byReading != asking.end()) write(m_sequence.each, wordOf(*byReading->in, m_words));
            return readAnswer(m_sequence.each, block, byReading != asking.end());
        }
        if (byMeasuring != asking.end()) {
            const Words words =
                byMeasuring->text.empty() ? m_words : with(byMeasuring->in->answer.by, byMeasuring->text);
            write(m_sequence.each, wordOf(*byMeasuring->in, words));
            m_sequence.each.back().wait_s = conversion_s(words);
            return readAnswer(m_sequence.each, block, false);
        }
        // One command converts, another one reads.
        const Words words = with(byReading->in->answer.by, byReading->text);
        write(m_sequence.each, wordOf(*m_map->findField(byReading->in->answer.by).first, words));
        m_sequence.each.back().wait_s = conversion_s(words);
        write(m_sequence.each, wordOf(*byReading->in, words));
        readAnswer(m_sequence.each, block, true);
    }

    [[nodiscard]] const Register* measuring() const {
        for (const Register& in : m_map->registers)
            if (in.role == CommandRole::Measures) return &in;
        return &m_map->registers.front();
    }

    /// The answer to the command before it: in the same transfer, or by itself.
    static void readAnswer(Steps& steps, const BlockSpec& block, bool isInSameTransfer) {
        if (!isInSameTransfer) steps.push_back({{}, 0, "", 0, 0, false, "the result"});
        steps.back().in = block.size;
        steps.back().block = block.name;
    }

    /// Coefficients that are read word by word.
    void readInPieces(const BlockSpec& block, const Register& in) {
        if (in.answer.from.empty()) {
            write(m_sequence.once, wordOf(in, m_words));
            return readAnswer(m_sequence.once, block, true);
        }
        for (std::size_t at = 0; at < block.size; at += in.answer.bytes) {
            const Words words = with(in.answer.from, std::to_string(at / in.answer.bytes));
            write(m_sequence.once, wordOf(in, words));
            SequenceStep& step = m_sequence.once.back();
            step.in = in.answer.bytes;
            step.block = block.name;
            step.at = at;
            step.why = fmt::format("its coefficients, word {}", at / in.answer.bytes);
        }
    }

    void makeAsWritten() {
        if (m_map)
            for (const RegisterWord& word : m_words)
                if (!word.in->isReadOnly && !isWrittenEachTime(*word.in)) write(m_sequence.once, word);
        std::map<std::string, std::size_t> read;
        for (const MeasureStep& one : m_part.measure) {
            const bool isWanted =
                one.block.empty() || std::any_of(m_blocks.begin(), m_blocks.end(),
                                                 [&](const auto& block) { return block.name == one.block; });
            if (!isWanted) continue;
            Steps& steps = one.isOnce ? m_sequence.once : m_sequence.each;
            if (!one.settings.empty()) {
                writeSettings(steps, one);
                continue;
            }
            // A result that is thrown away stands where the next one is put.
            if (one.isOnce && !isCalibration(one.block)) read[one.block] = 0;
            steps.push_back({one.out, one.in, one.block, read[one.block], one.wait_s, one.isUnanswered, one.why,
                             one.startLow_s, m_sequence.site.kind == BusKind::Clocked ? pulses() : 0});
            if (!one.isOnce || isCalibration(one.block)) read[one.block] += one.in;
        }
    }

    [[nodiscard]] bool isCalibration(const std::string& name) const {
        return std::any_of(m_blocks.begin(), m_blocks.end(),
                           [&](const BlockSpec& block) { return block.isCalibration && block.name == name; });
    }

    /// Registers that a step of the measurement writes are not written before it.
    [[nodiscard]] bool isWrittenEachTime(const Register& in) const {
        return std::any_of(m_part.measure.begin(), m_part.measure.end(), [&](const MeasureStep& one) {
            const auto settings = RegisterMap::readSettings(one.settings);
            return settings && starts(in, *settings);
        });
    }

    /// What such a step sets, over the gauge's own settings; it lasts as long as with these.
    void writeSettings(Steps& steps, const MeasureStep& one) {
        const auto settings = RegisterMap::readSettings(one.settings);
        const auto words = settings && m_map ? m_map->set(*settings, m_words) : Expected<Words>(Words());
        if (!settings || !words || words->empty()) {
            m_sequence.missing = "“" + one.settings + "” cannot be set in its registers";
            return;
        }
        for (const RegisterWord& word : *words)
            if (starts(*word.in, *settings)) write(steps, word);
        steps.back().why = one.why + "; " + steps.back().why;
        steps.back().wait_s = conversion_s(*words) + one.wait_s;
    }

    /// Clock pulses of one reading, from the word that counts them.
    [[nodiscard]] unsigned pulses() const {
        if (m_map)
            for (const Register& in : m_map->registers)
                if (in.form == WordForm::Pulses) return static_cast<unsigned>(wordOf(in, m_words).word);
        return 0;
    }

    void makeOneWire() {
        const RegisterMap none{};
        for (const Transaction& one : scratchpadTransactions(m_map ? *m_map : none, m_words, m_sequence.site)) {
            SequenceStep step{sentBytes(one, BusKind::OneWire), 0, "", 0, 0, false, ""};
            // One of several probes is named by its code instead of the byte that means the only one.
            if (!m_rom.empty()) {
                constexpr std::uint8_t kMatchRom = 0x55;
                step.out.front() = kMatchRom;
                step.out.insert(step.out.begin() + 1, m_rom.begin(), m_rom.end());
            }
            if (one.title == "write") {
                if (m_words.empty()) continue;
                std::string text;
                for (const RegisterWord& word : m_words) text += (text.empty() ? "" : "; ") + reason(word);
                step.why = "the scratchpad: " + text;
                m_sequence.once.push_back(std::move(step));
            } else if (one.title == "convert") {
                step.why = "convert; a probe without a supply of its own needs the line held high meanwhile";
                step.wait_s = conversion_s(m_words);
                m_sequence.each.push_back(std::move(step));
            } else if (one.title == "read" && !m_blocks.empty()) {
                step.why = "the scratchpad";
                step.in = m_blocks.front().size;
                step.block = m_blocks.front().name;
                m_sequence.each.push_back(std::move(step));
            }
        }
    }

    const DevicePart& m_part;
    const RegisterMap* m_map;
    Words m_words;
    std::vector<std::uint8_t> m_rom;
    std::vector<BlockSpec> m_blocks;
    bool m_isStarted = false;
    MeasuringSequence m_sequence;
};

}  // namespace

MeasuringSequence sequenceOf(const DigitalPath& path, const GaugeSpec& spec, const Catalogue& catalogue,
                             const std::vector<std::string>& blocks) {
    const auto words = settingWordsOf(spec, catalogue);
    return Maker(path, catalogue.findRegisterMap(path.part().id), words.value_or(Words()), blocks).make();
}

}  // namespace fg
