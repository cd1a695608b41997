#include "path/converter_setup.h"
#include "findings/finding.h"
#include "gauge/gauge.h"
#include "support.h"

namespace fg {
namespace {

using test::catalogue;

/// A voltage sensor on the converter inside a controller.
GaugeSpec onController(const char* converter, const char* controller, const std::string& setup = "") {
    GaugeSpec spec = test::directGauge("lm35", 10, 5);
    spec.converter.parameters = {};
    spec.converter.part = converter;
    spec.converter.parameters.set("setup_part", controller);
    if (!setup.empty()) spec.converter.parameters.set("setup", setup);
    return spec;
}

const RegisterMap& mapOf(const char* id) { return *catalogue().findRegisterMap(id); }

std::vector<RegisterWord> wordsOf(const RegisterMap& map, const std::string& settings) {
    const auto words = map.set(RegisterMap::readSettings(settings).value());
    EXPECT_TRUE(words) << words.error().message();
    return words.value_or(std::vector<RegisterWord>());
}

std::uint32_t wordOf(const RegisterMap& map, const std::string& settings, const char* name) {
    for (const RegisterWord& word : wordsOf(map, settings))
        if (word.in->name == name) return word.word;
    return 0xDEAD;
}

/// Words put together by hand from the register descriptions of the controllers' data sheets.
TEST(ConverterSetup, WordsAreThoseOfTheDataSheets) {
    struct Case {
        const char *controller, *settings, *name;
        std::uint32_t word;
    };
    // REFS1:0 ADLAR – MUX3:0; ADEN ADSC ADATE ADIF ADIE ADPS2:0; REFS1:0 ADLAR REFS2 MUX3:0; SREF SHT SR REFOUT
    // REFBURST MSC 2_5V REFON ON IE IFG ENC SC; REFSEL PRESC; ALIGN and ADON.
    for (const Case& one :
         {Case{"atmega328p", "reference=1.1V,channel=adc0", "admux", 0xC0},
          Case{"atmega328p", "reference=avcc,justification=left,channel=adc5", "admux", 0x65},
          Case{"atmega328p", "enable=on,prescaler=128", "adcsra", 0x87},
          Case{"atmega328p", "enable=on,auto_trigger=on,interrupt=on,prescaler=64", "adcsra", 0xAE},
          Case{"atmega328p", "comparator_reference=bandgap,comparator_edge=rising", "acsr", 0x43},
          Case{"atmega2560", "reference=2.56V,channel=adc3", "admux", 0xC3},
          Case{"atmega2560", "upper_channels=on", "adcsrb", 0x08},
          Case{"attiny85", "reference=2.56V,channel=adc2-pb4", "admux", 0x92},
          Case{"attiny85", "reference=1.1V,channel=temperature", "admux", 0x8F},
          Case{"msp430g2553", "channel=a4,prescaler=4,clock_source=smclk", "adc10ctl1", 0x4078},
          Case{"msp430g2553", "reference=vref,sampling=16,reference_voltage=2.5V,reference_on=on,enable=on",
               "adc10ctl0", 0x3070},
          Case{"atmega4809", "reference=vdd,prescaler=16", "adc_ctrlc", 0x13},
          Case{"atmega4809", "reference_voltage=2.5V", "vref_ctrla", 0x20},
          Case{"stm32f103", "justification=left,enable=on", "cr2", 0x801},
          Case{"stm32f103", "sampling=55.5", "smpr2", 5},
          Case{"rp2040", "enable=on,start=on,channel=gpio28", "cs", 0x2005},
          Case{"rp2040", "enable=on,temperature_sensor=on,channel=temperature", "cs", 0x4003},
          Case{"pic16f877a", "justification=right,pins=all-analog", "adcon1", 0x80},
          Case{"pic16f877a", "pins=an0,justification=right,clock_halved=halved", "adcon1", 0xCE},
          Case{"pic16f877a", "prescaler=32,channel=an3,enable=on,start=on", "adcon0", 0x9D},
          // REFSEL; GAIN MUXNEG MUXPOS; PRESCALER RESSEL FREERUN; RES GAIN REFSEL TACQ; SWSTART ALIGN ADON; ADCPRE;
          // RES.
          Case{"samd21", "reference=intvcc1", "refctrl", 0x02},
          Case{"samd21", "gain=div2,negative=ground,channel=pin3", "inputctrl", 0x0F001803},
          Case{"samd21", "prescaler=64,resolution=10bit,continuous=on", "ctrlb", 0x0424},
          Case{"nrf52832", "gain=1/6,reference=internal", "ch0_config", 0x00020000},
          Case{"nrf52832", "gain=1/4,reference=vdd/4,acquisition=40us", "ch0_config", 0x00051200},
          Case{"nrf52832", "resolution=12bit", "resolution", 2},
          Case{"stm32f407", "start=on,justification=left,enable=on", "cr2", 0x40000801},
          Case{"stm32f407", "prescaler=4", "ccr", 0x00010000}, Case{"stm32f407", "resolution=10bit", "cr1", 0x01000000},
          // CONT ALIGN RES1:0; CHSEL; SMP; CKMODE; ADVREGEN ADSTART ADEN; JQDIS RES1:0; SQ1; SMP1; ADCAL ADVREGEN.
          Case{"stm32f030", "continuous=on,justification=left,resolution=10bit", "cfgr1", 0x2028},
          Case{"stm32f030", "channel=reference", "chselr", 0x20000}, Case{"stm32f072", "sampling=71.5", "smpr", 6},
          Case{"stm32f072", "clock_source=bus/2", "cfgr2", 0x40000000},
          Case{"stm32g071", "regulator=on,start=on,enable=on", "cr", 0x10000005},
          Case{"stm32g071", "channel=reference", "chselr", 0x2000},
          Case{"stm32l476", "resolution=8bit,interrupt=off", "cfgr", 0x80000010},
          Case{"stm32l476", "channel=in5", "sqr1", 0x140}, Case{"stm32l476", "sampling=640.5", "smpr1", 0x38},
          Case{"stm32l476", "deep_power_down=off,regulator=on,calibration=on", "cr", 0x90000000},
          Case{"stm32f303", "regulator=on,enable=on", "cr", 0x10000001},
          Case{"stm32f303", "clock_source=bus/4,reference=on", "ccr", 0x00430000}})
        EXPECT_EQ(wordOf(mapOf(one.controller), one.settings, one.name), one.word)
            << one.controller << ": " << one.settings;
}

/// From the gauge to the words: what it counts with is what they select.
TEST(ConverterSetup, FollowsFromTheGauge) {
    struct Case {
        const char *converter, *controller, *settings;
    };
    for (const Case& one :
         {Case{"adc-10bit-supply", "atmega328p", "reference=avcc,justification=right"},
          Case{"adc-10bit-1v1", "atmega328p", "reference=1.1V,justification=right"},
          Case{"adc-10bit-left", "atmega328p", "reference=avcc,justification=left"},
          Case{"adc-10bit-2v56", "atmega2560", "reference=2.56V,justification=right"},
          Case{"msp430g2-2v5", "msp430g2553", "justification=straight,reference=vref,reference_voltage=2.5V"},
          Case{"stm32f0", "stm32f030", "justification=right,resolution=12bit"},
          Case{"stm32l4", "stm32l432", "justification=right,resolution=12bit"},
          Case{"ads1115", "ads1115", "pga=2.048V"}}) {
        const GaugeSpec spec = onController(one.converter, one.controller);
        const RegisterMap& map = mapOf(one.controller);
        EXPECT_EQ(setupMapOf(catalogue(), spec), &map);
        std::string settings = settingsAsCounted(map, spec, catalogue());
        EXPECT_EQ(settings.substr(0, std::string(one.settings).size()), one.settings);
        EXPECT_TRUE(checkSetup(map, wordsOf(map, settings), spec, catalogue()).empty()) << settings;
        EXPECT_TRUE(setupFor(map, spec, catalogue()).impossible.empty()) << one.controller;
    }
    // Reference and gain make the full scale together: half the supply with half the gain; 0.6 V with a sixth; a
    // quarter of the supply with a quarter.
    GaugeSpec ofSupply = onController("nrf52", "nrf52");
    ofSupply.converter.parameters.set("reference_kind", "supply");
    ofSupply.converter.parameters.set("reference_V", 3.0);
    ofSupply.converter.parameters.set("gain", 1.0);
    for (const auto& [spec, chosen] : {std::pair(onController("samd21", "samd21"), "reference=intvcc1,gain=div2"),
                                       std::pair(onController("nrf52", "nrf52"), "gain=1/6,reference=internal"),
                                       std::pair(ofSupply, "gain=1/4,reference=vdd/4")}) {
        const RegisterMap& map = *setupMapOf(catalogue(), spec);
        const std::string settings = settingsAsCounted(map, spec, catalogue());
        EXPECT_TRUE(settings.ends_with(chosen)) << settings;
        EXPECT_TRUE(checkSetup(map, wordsOf(map, settings), spec, catalogue()).empty()) << settings;
    }
    GaugeSpec tripled = onController("samd21", "samd21");
    tripled.converter.parameters.set("gain", 3.0);
    const auto none = setupFor(mapOf("samd21"), tripled, catalogue());
    ASSERT_EQ(none.impossible.size(), 1u);
    EXPECT_NE(none.impossible[0].find("“Reference” and “Gain” together"), std::string::npos) << none.impossible[0];
    // With the controller's clock the prescaler follows too: 8 MHz / 64 = 125 kHz.
    GaugeSpec timed = onController("adc-10bit-supply", "atmega328p");
    timed.converter.parameters.set("setup_clock_Hz", 8e6);
    EXPECT_EQ(settingsAsCounted(mapOf("atmega328p"), timed, catalogue()),
              "reference=avcc,justification=right,enable=on,prescaler=64");
    // Where the gauge does not say what its reference is, none is chosen for it.
    const auto open = setupFor(mapOf("atmega328p"), test::directGauge("lm35", 10, 5), catalogue());
    ASSERT_EQ(open.impossible.size(), 1u);
    EXPECT_NE(open.impossible[0].find("not given whether"), std::string::npos) << open.impossible[0];
    EXPECT_TRUE(std::none_of(open.settings.begin(), open.settings.end(),
                             [](const Setting& one) { return one.id == "reference"; }));
    // What nobody can choose is said: this controller has no reference of 2.56 V.
    GaugeSpec spec = onController("adc-10bit-2v56", "atmega328p");
    const auto setup = setupFor(mapOf("atmega328p"), spec, catalogue());
    ASSERT_EQ(setup.impossible.size(), 1u);
    EXPECT_NE(setup.impossible[0].find("2.56 V"), std::string::npos) << setup.impossible[0];
}

/// Every fact of a map is turned against gauges that count otherwise.
TEST(ConverterSetup, SaysWhereWordsAndGaugeDiffer) {
    const RegisterMap& map = mapOf("atmega328p");
    const GaugeSpec inside = onController("adc-10bit-1v1", "atmega328p");
    const auto differing = [&](const GaugeSpec& spec, const RegisterMap& of, const std::string& settings) {
        std::string ids;
        for (const SetupMismatch& one : checkSetup(of, wordsOf(of, settings), spec, catalogue()))
            ids += (ids.empty() ? "" : " ") + one.id;
        return ids;
    };
    EXPECT_EQ(differing(inside, map, "reference=1.1V"), "");
    EXPECT_EQ(differing(inside, map, "reference=avcc"), "reference_kind");
    EXPECT_EQ(differing(inside, map, "reference=1.1V,justification=left"), "word");
    EXPECT_EQ(differing(inside, map, "reference=1.1V,prescaler=128"), "runs");
    EXPECT_EQ(differing(onController("adc-10bit-supply", "atmega2560"), mapOf("atmega2560"),
                        "reference=avcc,channel=adc1-adc0-x10"),
              "gain");
    EXPECT_EQ(differing(onController("adc-10bit-left", "atmega328p"), map, "reference=avcc,justification=left"), "");
    EXPECT_EQ(differing(onController("adc-10bit-2v56", "atmega2560"), mapOf("atmega2560"), "reference=1.1V"),
              "reference_V");
    // Ten bits are all this converter has.
    EXPECT_EQ(differing(test::directGauge("lm35", 12, 5), map, "enable=on"), "bits");
    // The internal reference's size counts only while it is selected.
    EXPECT_EQ(differing(onController("msp430g2", "msp430g2553"), mapOf("msp430g2553"), "reference=vcc,enable=on"), "");
    EXPECT_EQ(differing(onController("msp430g2-2v5", "msp430g2553"), mapOf("msp430g2553"), "reference=vref,enable=on"),
              "reference_V");
    GaugeSpec amplified = onController("ads1115", "ads1115");
    EXPECT_EQ(differing(amplified, mapOf("ads1115"), "pga=0.256V"), "full_scale_V");
    amplified.converter.parameters.set("gain", 8.0);  // 2.048 V / 8
    EXPECT_EQ(differing(amplified, mapOf("ads1115"), "pga=0.256V"), "");
    EXPECT_EQ(differing(onController("samd21", "samd21"), mapOf("samd21"), "reference=intvcc1,gain=1x"),
              "full_scale_part");
    EXPECT_EQ(differing(onController("samd21", "samd21"), mapOf("samd21"), "reference=int1v,gain=div2"),
              "full_scale_part reference_kind");
    const auto said = checkSetup(map, wordsOf(map, "reference=avcc"), inside, catalogue());
    EXPECT_EQ(said[0].text,
              "Reference = avcc selects the supply as reference; the gauge counts with the internal reference, 1.1 V");
}

/// 16 MHz / 128 = 125 kHz, 13 clocks are 104 µs: the data sheet's own figures.
TEST(ConverterSetup, TellsTheClockAndTheTimeOfAConversion) {
    const RegisterMap& map = mapOf("atmega328p");
    const auto right = setupTiming(map, wordsOf(map, "prescaler=128"), 16e6);
    ASSERT_EQ(right.consequences.size(), 2u);
    EXPECT_DOUBLE_EQ(right.consequences[0].value, 125e3);
    EXPECT_NEAR(right.consequences[1].value, 104e-6, 1e-12);
    EXPECT_TRUE(right.problem.empty());
    const auto fast = setupTiming(map, wordsOf(map, "prescaler=16"), 16e6);
    EXPECT_NE(fast.problem.find("1 MHz"), std::string::npos) << fast.problem;
    EXPECT_EQ(fast.advice, "prescaler=128");
    EXPECT_EQ(setupTiming(map, wordsOf(map, "prescaler=128"), 1e6).advice, "prescaler=8");
    EXPECT_TRUE(setupTiming(map, wordsOf(map, "prescaler=128"), 0).consequences.empty());
    // 14 MHz: 1.5 clocks of sampling and 12.5 are 1 µs.
    EXPECT_NEAR(
        setupTiming(mapOf("stm32f103"), wordsOf(mapOf("stm32f103"), "sampling=1.5"), 14e6).consequences[1].value, 1e-6,
        1e-12);
}

/// The gauge itself tells it, and a set-up that cannot be read is no silence.
TEST(ConverterSetup, IsAFindingOfTheGauge) {
    const auto ids = [](const GaugeSpec& spec) {
        std::string found;
        const auto gauge = Gauge::make(spec, catalogue());
        EXPECT_TRUE(gauge) << gauge.error().message();
        if (gauge)
            for (const Finding& one : gauge->findings(nullptr, nullptr))
                if (one.id.starts_with("setup")) found += one.id + " ";
        return found;
    };
    EXPECT_EQ(ids(onController("adc-10bit-1v1", "atmega328p", "reference=1.1V")), "");
    EXPECT_EQ(ids(onController("adc-10bit-1v1", "atmega328p", "reference=avcc")), "setup-differs ");
    EXPECT_EQ(ids(onController("adc-10bit-1v1", "atmega328p", "reference=7V")), "setup-unreadable ");
    EXPECT_EQ(ids(onController("adc-10bit-1v1", "bmp280", "reference=1.1V")), "setup-unreadable ");
    EXPECT_EQ(ids(onController("adc-10bit-1v1", "", "reference=1.1V")), "setup-unreadable ");
    GaugeSpec hasty = onController("adc-10bit-1v1", "atmega328p", "reference=1.1V,enable=on,prescaler=2");
    hasty.converter.parameters.set("setup_clock_Hz", 16e6);
    EXPECT_EQ(ids(hasty), "setup-clock ");
    // A gauge file keeps it.
    const auto again = readGauge(writeGauge(hasty), "again");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(*again, hasty);
    hasty.converter.parameters.set("setup_clokc_Hz", 1.0);
    EXPECT_FALSE(Gauge::make(hasty, catalogue()));
}

}  // namespace
}  // namespace fg
