#include "handover/pulse_text.h"

namespace fg {

std::string singleBusText(CodeLanguage language) {
    if (language == CodeLanguage::C)
        return R"(/* Holds the line low so long, then lets it go: its pull-up makes it high.
   `site` tells lines apart. */
static void fg_port_hold_low(uint8_t site, uint16_t microseconds)
{
    (void)site;
    (void)microseconds; /* fill in */
}

/* Waits until the line is high, and measures how long it stays so: microseconds, to 10 or better. 0 when either
   takes more than 1 ms. Nothing may interrupt it. */
static unsigned fg_port_high_us(uint8_t site)
{
    (void)site;
    return 0; /* fill in */
}

/* A start pulse, the answer's own pulse, then the bits: a short pulse is 0, a long one 1. The line is high before the
   answer too, for a moment that a quick board sees as a pulse of its own: what counts are the last pulses. */
static int single_bus(uint8_t site, uint16_t low_us, uint8_t *in, unsigned in_count)
{
    unsigned count = 0, i;
    fg_port_hold_low(site, low_us);
    while (count < 8u * in_count + 3u) {
        const unsigned high_us = fg_port_high_us(site);
        if (high_us == 0) break;
        for (i = 0; i + 1u < in_count; ++i) in[i] = (uint8_t)(in[i] << 1 | in[i + 1u] >> 7);
        in[in_count - 1u] = (uint8_t)(in[in_count - 1u] << 1 | (high_us > 50u ? 1 : 0));
        ++count;
    }
    return count == 8u * in_count + 1u || count == 8u * in_count + 2u;
}

)";
    return R"(def port_hold_low(site, microseconds):
    """Holds the line low so long, then lets it go; its pull-up makes it high."""
    pass  # fill in

def port_high_us(site):
    """Waits until the line is high, and measures how long it stays so; below 0 when either takes more than 1 ms."""
    return -1  # fill in: machine.time_pulse_us(pin, 1, 1000)

def single_bus(site, low_us, count):
    """A start pulse, the answer's own pulse, then the bits: a short pulse is 0, a long one 1. The line is high before
    the answer too, for a moment that a quick board sees as a pulse of its own: what counts are the last pulses."""
    port_hold_low(site, low_us)
    pulses = []
    while len(pulses) < 8 * count + 3:
        high_us = port_high_us(site)
        if high_us <= 0: break
        pulses.append(high_us)
    if not 8 * count + 1 <= len(pulses) <= 8 * count + 2: raise OSError
    word = 0
    for high_us in pulses[-8 * count:]: word = word << 1 | (high_us > 50)
    return word.to_bytes(count, 'big')

)";
}

std::string clockedText(CodeLanguage language) {
    if (language == CodeLanguage::C)
        return R"(/* Puts a level on the clock line and waits a microsecond. Longer than 50 us high
   switches the part off, so nothing may interrupt it. `site` tells parts apart. */
static void fg_port_clock(uint8_t site, int level)
{
    (void)site;
    (void)level; /* fill in */
}

/* The level of the data line, 0 or 1. */
static int fg_port_data(uint8_t site)
{
    (void)site;
    return 1; /* fill in */
}

static void fg_port_wait_ms(uint16_t milliseconds);

/* The data line is low when a result is ready. Each pulse of the clock brings a bit, the highest first; pulses past
   the bits choose the input and the gain of the next conversion. */
static int clocked(uint8_t site, unsigned pulses, uint8_t *in, unsigned in_count)
{
    unsigned i;
    for (i = 0; fg_port_data(site) != 0; ++i) {
        if (i >= 500u) return 0;
        fg_port_wait_ms(1);
    }
    for (i = 0; i < pulses; ++i) {
        fg_port_clock(site, 1);
        if (i < 8u * in_count) in[i / 8u] = (uint8_t)(in[i / 8u] << 1 | (fg_port_data(site) != 0 ? 1 : 0));
        fg_port_clock(site, 0);
    }
    return 1;
}

)";
    return R"(def port_clock(site, level):
    """Puts a level on the clock line; longer than 50 us high switches the part off, so nothing may interrupt it."""
    pass  # fill in

def port_data(site):
    """The level of the data line, 0 or 1."""
    return 1  # fill in

def clocked(site, pulses, count):
    """The data line is low when a result is ready. Each pulse of the clock brings a bit, the highest first; pulses past
    the bits choose the input and the gain of the next conversion."""
    waited = 0
    while port_data(site):
        if waited >= 500: raise OSError
        port_wait_ms(1)
        waited += 1
    word = 0
    for i in range(pulses):
        port_clock(site, 1)
        if i < 8 * count: word = word << 1 | (1 if port_data(site) else 0)
        port_clock(site, 0)
    return word.to_bytes(count, 'big')

)";
}

}  // namespace fg
