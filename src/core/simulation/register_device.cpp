#include "simulation/register_device.h"

#include "bytes/checksum.h"
#include "timing/consequences.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>

namespace fg {
namespace {

/// What the result bytes of a part hold before its first conversion, where its data sheet says so; zeros otherwise.
struct PowerOnPattern {
    std::string_view device;
    std::vector<std::uint8_t> bytes;
};
const std::array kPatterns{PowerOnPattern{"bmp280", {0x80, 0x00, 0x00, 0x80, 0x00, 0x00}},
                           PowerOnPattern{"bme280", {0x80, 0x00, 0x00, 0x80, 0x00, 0x00, 0x80, 0x00}},
                           PowerOnPattern{"bmp388", {0x00, 0x00, 0x80, 0x00, 0x00, 0x80}},
                           PowerOnPattern{"dps310", {0x80, 0x00, 0x00, 0x80, 0x00, 0x00}},
                           PowerOnPattern{"tmp117", {0x80, 0x00}},
                           PowerOnPattern{"ds18b20", {0x50, 0x05, 0x4B, 0x46, 0x7F, 0xFF, 0x0C, 0x10, 0x1C}}};

/// Parts that answer "no acknowledge" instead of old bytes.
bool isSilentWhileBusy(std::string_view device) {
    constexpr std::array silent{"sht3x", "sht4x", "si7021", "hdc1080"};
    return std::find(silent.begin(), silent.end(), device) != silent.end();
}

}  // namespace

RegisterDevice::RegisterDevice(VirtualDevice device, const DevicePart& part, const RegisterMap* map, std::uint32_t seed)
    : m_device(std::move(device)), m_part(part), m_map(map), m_random(seed) {
    powerOn();
}

void RegisterDevice::powerOn() {
    m_words.clear();
    if (m_map)
        for (const Register& one : m_map->registers) m_words.push_back({&one, one.reset});
    m_image = m_device.calibration;
    if (m_part.identity) {
        const std::size_t bytes = m_part.identity->value > 0xFF ? 2 : 1;
        RawBlock identity{"", m_part.identity->registerAddress, {}};
        for (std::size_t i = bytes; i-- > 0;)
            identity.bytes.push_back(static_cast<std::uint8_t>(m_part.identity->value >> 8 * i));
        m_image.add(identity);
    }
    m_hasResult = m_isAsked = false;
    m_left_s = m_busy_s = 0;
    m_last = nullptr;
    m_sent.clear();
    const DeviceOptions options = optionsNow();
    std::vector<std::uint8_t> pattern;
    for (const PowerOnPattern& one : kPatterns)
        if (one.device == m_device.device->id) pattern = one.bytes;
    for (const BlockSpec& block : m_device.device->blocks(options)) {
        if (block.isCalibration || block.isOptional) continue;
        RawBlock result{block.address ? "" : block.name, block.address, pattern};
        result.bytes.resize(block.size);
        m_image.add(result);
    }
    if (isContinuous()) start();
}

std::string RegisterDevice::fieldText(const std::string& id) const {
    if (!m_map) return {};
    for (const FieldValue& value : m_map->all(m_words))
        if (value.field->id == id) return value.text;
    return {};
}

/// Is the field in a register, or in a command that was sent?
bool RegisterDevice::isSaid(const std::string& id) const {
    const Register* in = m_map->findField(id).first;
    return in && (in->form == WordForm::Register || std::find(m_sent.begin(), m_sent.end(), in) != m_sent.end());
}

bool RegisterDevice::isContinuous() const {
    if (m_map && m_map->hasCommands()) return m_isAsked && m_map->isRepeated(m_words);
    return m_map && m_map->measuringWith(m_words) == Measuring::Always;
}

bool RegisterDevice::isSingle() const {
    if (m_map && m_map->hasCommands()) return m_isAsked && !isContinuous();
    return m_map && m_map->measuringWith(m_words) == Measuring::Once;
}

double RegisterDevice::consequence(std::initializer_list<std::string_view> ids, double otherwise) const {
    if (m_map)
        for (const Consequence& one : consequencesOf(*m_map, m_map->all(m_words)))
            if (std::find(ids.begin(), ids.end(), one.id) != ids.end()) return one.value;
    return otherwise;
}

double RegisterDevice::conversion_s() const {
    return consequence({"conversion_s", "conversion_max_s"},
                       m_part.minimumInterval_s > 0 ? m_part.minimumInterval_s : 0.01);
}

void RegisterDevice::command() {
    if (isContinuous()) return;
    m_isAsked = false;
    start();
}

DeviceOptions RegisterDevice::optionsNow() const {
    DeviceOptions options = m_device.options;
    // What decoding and sending depend on follows the registers where they say it.
    for (const OptionSpec& spec : m_device.device->options())
        if (const std::string text = fieldText(spec.id); text.empty() || !isSaid(spec.id))
            continue;
        else if (spec.choices.empty())
            options.set(spec.id, text);
        else
            for (const std::string& choice : spec.choices)
                if (text == choice || text == "x" + choice || text == choice + "V") options.set(spec.id, choice);
    if (const std::string time = fieldText("integration"); time.ends_with("ms"))
        options.set("integration_ms", time.substr(0, time.size() - 2));
    auto complete = options.completed(m_device.device->options());
    return complete ? *complete : m_device.options.completed(m_device.device->options()).value();
}

void RegisterDevice::putResult(const RawData& raw) {
    for (const RawBlock& block : raw.blocks()) m_image.add(block);
    // Older results are covered by newer ones; only the newest few are worth keeping.
    if (m_image.blocks().size() < 64) return;
    RawData kept = m_device.calibration;
    if (m_part.identity)
        kept.add(RawBlock{
            "", m_part.identity->registerAddress,
            m_image.registers(m_part.identity->registerAddress, m_part.identity->value > 0xFF ? 2 : 1)->data()});
    kept.add(raw);
    m_image = std::move(kept);
}

/// The only block that the part is told to measure; empty for all of them.
std::string RegisterDevice::measuredBlock() const {
    if (!m_map || !m_isAsked) return {};
    for (const Register& one : m_map->registers)
        if (const auto it = one.answer.blocks.find(fieldText(one.answer.by)); it != one.answer.blocks.end())
            return it->second;
    return {};
}

void RegisterDevice::finish(const Workshop& workshop) {
    VirtualDevice now = m_device;
    now.options = optionsNow();
    const auto frame = measuredFrame(now, workshop, m_random);
    const std::string only = measuredBlock();
    if (const auto raw = blocksOfFrame(*m_device.device, now.options, frame)) {
        RawData measured;
        for (const RawBlock& block : raw->blocks())
            if (only.empty() || block.name == only) measured.add(block);
        putResult(measured);
    }
    m_hasResult = true;
    if (!m_map || !isSingle()) return;
    m_isAsked = false;
    // A single conversion ends in the part's state of rest.
    for (const char* rest : {"sleep", "shutdown"})
        if (const auto words = m_map->set(std::vector<Setting>{{"mode", rest}}, m_words)) m_words = *words;
    if (const auto words = m_map->set(std::vector<Setting>{{"oneshot", "off"}}, m_words)) m_words = *words;
}

void RegisterDevice::advance(double seconds, const Workshop& workshop) {
    while (m_left_s > 0 && seconds >= m_left_s) {
        seconds -= m_left_s;
        m_left_s = 0;
        finish(workshop);
        if (isContinuous()) {
            // Conversions that would be covered by later ones of the same stretch need not be computed.
            m_busy_s = conversion_s();
            m_left_s = std::max(consequence({"period_s"}, 0), m_busy_s);
            seconds = std::min(seconds, 2 * m_left_s);
        }
    }
    if (m_left_s > 0) m_left_s -= seconds;
}

void RegisterDevice::take(const RegisterWord& word) {
    const Register& in = *word.in;
    if (in.form != WordForm::Register) {
        m_last = &in;
        if (std::find(m_sent.begin(), m_sent.end(), &in) == m_sent.end()) m_sent.push_back(&in);
        if (in.role == CommandRole::Resets) return powerOn();
    }
    const auto it =
        std::find_if(m_words.begin(), m_words.end(), [&](const RegisterWord& one) { return one.in == &in; });
    std::uint32_t own = in.reserved;
    for (const RegisterField& field : in.fields)
        if (field.isReadOnly) own |= field.mask();
    it->word = in.words.empty() ? (word.word & ~own) | (it->word & own) : word.word;
    if (in.role == CommandRole::Measures) m_isAsked = true;
    const bool isPowerOff = in.form == WordForm::Command && fieldText("power") == "off" && in.role == CommandRole::Sets;
    if (in.role == CommandRole::Stops || isPowerOff) m_isAsked = false;
    if (in.form == WordForm::Register || in.role != CommandRole::Sets || isPowerOff) settle();
}

/// After a change of the settings: begins to measure, or stops.
void RegisterDevice::settle() {
    const bool measures = isContinuous() || isSingle();
    if (measures && !isConverting()) start();
    if (!measures) m_left_s = 0;
}

Expected<void> RegisterDevice::takeCommand(std::span<const std::uint8_t> sent) {
    if (const auto command = m_map->command(sent, m_words)) {
        take(*command);
        return Expected<void>();
    }
    const auto words = m_map->words(RawData({RawBlock{"", {}, {sent.begin(), sent.end()}}}));
    if (!words) return tl::unexpected(words.error());
    for (const RegisterWord& word : *words) take(word);
    return {};
}

Expected<void> RegisterDevice::write(unsigned pointer, std::span<const std::uint8_t> bytes) {
    const std::string where = fmt::format("register 0x{:02X}", pointer);
    if (!m_map) {
        start();  // any command measures
        return {};
    }
    if (m_map->hasCommands()) {
        std::vector<std::uint8_t> sent;
        if (pointer > 0xFF) sent.push_back(static_cast<std::uint8_t>(pointer >> 8));
        sent.push_back(static_cast<std::uint8_t>(pointer));
        sent.insert(sent.end(), bytes.begin(), bytes.end());
        return takeCommand(sent);
    }
    for (std::size_t at = 0; at < bytes.size();) {
        const auto it = std::find_if(m_words.begin(), m_words.end(),
                                     [&](const RegisterWord& word) { return word.in->writePointer() == pointer + at; });
        if (it == m_words.end()) {
            if (m_image.hasRegister(pointer + static_cast<unsigned>(at)))
                return fail(ErrorCode::ReadOnly, where, "a write",
                            "a read: calibration and results are the part's own");
            ++at;
            continue;
        }
        if (at + it->in->bytes > bytes.size())
            return fail(ErrorCode::Range, where, fmt::format("{} byte(s)", bytes.size() - at),
                        fmt::format("the {} bytes of {}", it->in->bytes, it->in->name));
        const Register& in = *it->in;
        take({&in, in.wordOf(bytes.subspan(at, in.bytes))});
        at += in.bytes;
    }
    return {};
}

Expected<std::vector<std::uint8_t>> RegisterDevice::read(unsigned pointer, std::size_t count) {
    std::vector<std::uint8_t> bytes;
    for (const RegisterWord& word : m_words) {
        if (word.in->form != WordForm::Register || word.in->readPointer() != pointer) continue;
        bytes = word.bytes();
        if (word.in->hasCrc && count == bytes.size() + 1) bytes.push_back(crc8Humidity(bytes, 0xFF));
        if (bytes.size() == count) return bytes;
    }
    if (m_map && m_map->hasCommands()) {
        if (const auto sent = write(pointer, {}); !sent) return tl::unexpected(sent.error());
        return answer(count);
    }
    bytes.clear();
    // Where a pointer names a whole word, its second byte is not the register of the next address.
    if (m_device.device->words == WordReading::OfPointer)
        if (const auto word = m_image.registers(pointer, count)) return word->data();
    if (m_map && count > 1 && m_map->measuring.burstFlag) pointer &= ~m_map->measuring.burstFlag;
    for (std::size_t i = 0; i < count; ++i) {
        const auto address = pointer + static_cast<unsigned>(i);
        const auto word = std::find_if(m_words.begin(), m_words.end(), [&](const RegisterWord& one) {
            return one.in->readPointer() == address && one.in->bytes == 1;
        });
        if (word != m_words.end()) {
            bytes.push_back(static_cast<std::uint8_t>(word->word));
            continue;
        }
        const auto byte = m_image.registers(address, 1);
        if (!byte) return tl::unexpected(byte.error());
        bytes.push_back(byte->u8(0));
    }
    return bytes;
}

Expected<std::vector<std::uint8_t>> RegisterDevice::answer(std::size_t count) {
    if (!m_last || m_last->answer.bytes == 0)
        return fail(ErrorCode::Missing, "answer", "no command that is answered",
                    "one of the part's reading commands first");
    const CommandAnswer& answer = m_last->answer;
    const auto chosen = answer.blocks.find(fieldText(answer.by));
    const auto block = readBlock(chosen == answer.blocks.end() ? answer.block : chosen->second);
    if (!block) return block;
    std::size_t from = 0;
    for (const FieldValue& value : m_map->all(m_words))
        if (value.field->id == answer.from) from = value.code * answer.bytes;
    if (from + count > block->size())
        return fail(ErrorCode::Range, "answer", fmt::format("{} byte(s)", count),
                    fmt::format("the {} that this command gives", answer.bytes));
    return std::vector<std::uint8_t>(block->begin() + static_cast<std::ptrdiff_t>(from),
                                     block->begin() + static_cast<std::ptrdiff_t>(from + count));
}

Expected<std::vector<std::uint8_t>> RegisterDevice::frame() {
    std::vector<std::uint8_t> frame;
    for (const BlockSpec& block : m_device.device->blocks(optionsNow())) {
        if (block.isCalibration || block.isOptional) continue;
        const auto bytes = block.address ? read(*block.address, block.size) : readBlock(block.name);
        if (!bytes) return bytes;
        frame.insert(frame.end(), bytes->begin(), bytes->end());
    }
    return frame;
}

Expected<std::vector<std::uint8_t>> RegisterDevice::readBlock(const std::string& name) {
    // Periodic measurements leave the result before to be fetched.
    if (isSilentWhileBusy(m_device.device->id) && ((isConverting() && !isContinuous()) || !m_hasResult))
        return fail(ErrorCode::Busy, name, "no acknowledge",
                    m_hasResult || isConverting() ? "to wait for the conversion" : "a measurement to be started first");
    const std::size_t size = m_image.blockSize(name);
    if (size == 0) return fail(ErrorCode::Missing, name, "nothing", "a block this part has");
    const auto bytes = m_image.block(name, size);
    if (!bytes) return tl::unexpected(bytes.error());
    return bytes->data();
}

}  // namespace fg
