#include "sensors/thermocouple.h"

#include "numeric/inverse_table.h"
#include "sensors/family_rows.h"
#include "units/number_format.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <mutex>
#include <optional>

namespace fg {
namespace {

/// One piece of a reference function: E in mV over t in °C.
struct Piece {
    double from_degC, to_degC;
    std::span<const double> c;
    bool hasGaussian = false;
};

// Coefficients as printed, mV per °C to the power of their place.
constexpr double kK1[]{0,
                       0.394501280250e-01,
                       0.236223735980e-04,
                       -0.328589067840e-06,
                       -0.499048287770e-08,
                       -0.675090591730e-10,
                       -0.574103274280e-12,
                       -0.310888728940e-14,
                       -0.104516093650e-16,
                       -0.198892668780e-19,
                       -0.163226974860e-22};
constexpr double kK2[]{-0.176004136860e-01, 0.389212049750e-01,  0.185587700320e-04, -0.994575928740e-07,
                       0.318409457190e-09,  -0.560728448890e-12, 0.560750590590e-15, -0.320207200030e-18,
                       0.971511471520e-22,  -0.121047212750e-25};
constexpr double kGaussian[]{0.118597600000e+00, -0.118343200000e-03, 0.126968600000e+03};
constexpr double kJ1[]{0,
                       0.503811878150e-01,
                       0.304758369300e-04,
                       -0.856810657200e-07,
                       0.132281952950e-09,
                       -0.170529583370e-12,
                       0.209480906970e-15,
                       -0.125383953360e-18,
                       0.156317256970e-22};
constexpr double kJ2[]{0.296456256810e+03,  -0.149761277860e+01, 0.317871039240e-02,
                       -0.318476867010e-05, 0.157208190040e-08,  -0.306913690560e-12};
constexpr double kT1[]{0,
                       0.387481063640e-01,
                       0.441944343470e-04,
                       0.118443231050e-06,
                       0.200329735540e-07,
                       0.901380195590e-09,
                       0.226511565930e-10,
                       0.360711542050e-12,
                       0.384939398830e-14,
                       0.282135219250e-16,
                       0.142515947790e-18,
                       0.487686622860e-21,
                       0.107955392700e-23,
                       0.139450270620e-26,
                       0.797951539270e-30};
constexpr double kT2[]{0,
                       0.387481063640e-01,
                       0.332922278800e-04,
                       0.206182434040e-06,
                       -0.218822568460e-08,
                       0.109968809280e-10,
                       -0.308157587720e-13,
                       0.454791352900e-16,
                       -0.275129016730e-19};
constexpr double kN1[]{0,
                       0.261591059620e-01,
                       0.109574842280e-04,
                       -0.938411115540e-07,
                       -0.464120397590e-10,
                       -0.263033577160e-11,
                       -0.226534380030e-13,
                       -0.760893007910e-16,
                       -0.934196678350e-19};
constexpr double kN2[]{0,
                       0.259293946010e-01,
                       0.157101418800e-04,
                       0.438256272370e-07,
                       -0.252611697940e-09,
                       0.643118193390e-12,
                       -0.100634715190e-14,
                       0.997453389920e-18,
                       -0.608632456070e-21,
                       0.208492293390e-24,
                       -0.306821961510e-28};
constexpr double kE1[]{0,
                       0.586655087080e-01,
                       0.454109771240e-04,
                       -0.779980486860e-06,
                       -0.258001608430e-07,
                       -0.594525830570e-09,
                       -0.932140586670e-11,
                       -0.102876055340e-12,
                       -0.803701236210e-15,
                       -0.439794973910e-17,
                       -0.164147763550e-19,
                       -0.396736195160e-22,
                       -0.558273287210e-25,
                       -0.346578420130e-28};
constexpr double kE2[]{0,
                       0.586655087100e-01,
                       0.450322755820e-04,
                       0.289084072120e-07,
                       -0.330568966520e-09,
                       0.650244032700e-12,
                       -0.191974955040e-15,
                       -0.125366004970e-17,
                       0.214892175690e-20,
                       -0.143880417820e-23,
                       0.359608994810e-27};
constexpr double kS1[]{0,
                       0.540313308631e-02,
                       0.125934289740e-04,
                       -0.232477968689e-07,
                       0.322028823036e-10,
                       -0.331465196389e-13,
                       0.255744251786e-16,
                       -0.125068871393e-19,
                       0.271443176145e-23};
constexpr double kS2[]{0.132900444085e+01, 0.334509311344e-02, 0.654805192818e-05, -0.164856259209e-08,
                       0.129989605174e-13};
constexpr double kS3[]{0.146628232636e+03, -0.258430516752e+00, 0.163693574641e-03, -0.330439046987e-07,
                       -0.943223690612e-14};
constexpr double kR1[]{0,
                       0.528961729765e-02,
                       0.139166589782e-04,
                       -0.238855693017e-07,
                       0.356916001063e-10,
                       -0.462347666298e-13,
                       0.500777441034e-16,
                       -0.373105886191e-19,
                       0.157716482367e-22,
                       -0.281038625251e-26};
constexpr double kR2[]{0.295157925316e+01,  -0.252061251332e-02, 0.159564501865e-04,
                       -0.764085947576e-08, 0.205305291024e-11,  -0.293359668173e-15};
constexpr double kR3[]{0.152232118209e+03, -0.268819888545e+00, 0.171280280471e-03, -0.345895706453e-07,
                       -0.934633971046e-14};
constexpr double kB1[]{0,
                       -0.246508183460e-03,
                       0.590404211710e-05,
                       -0.132579316360e-08,
                       0.156682919010e-11,
                       -0.169445292400e-14,
                       0.629903470940e-18};
constexpr double kB2[]{-0.389381686210e+01, 0.285717474700e-01,  -0.848851047850e-04,
                       0.157852801640e-06,  -0.168353448640e-09, 0.111097940130e-12,
                       -0.445154310330e-16, 0.989756408210e-20,  -0.937913302890e-24};

constexpr Piece kPiecesK[]{{-270, 0, kK1}, {0, 1372, kK2, true}};
constexpr Piece kPiecesJ[]{{-210, 760, kJ1}, {760, 1200, kJ2}};
constexpr Piece kPiecesT[]{{-270, 0, kT1}, {0, 400, kT2}};
constexpr Piece kPiecesN[]{{-270, 0, kN1}, {0, 1300, kN2}};
constexpr Piece kPiecesE[]{{-270, 0, kE1}, {0, 1000, kE2}};
constexpr Piece kPiecesS[]{{-50, 1064.18, kS1}, {1064.18, 1664.5, kS2}, {1664.5, 1768.1, kS3}};
constexpr Piece kPiecesR[]{{-50, 1064.18, kR1}, {1064.18, 1664.5, kR2}, {1664.5, 1768.1, kR3}};
constexpr Piece kPiecesB[]{{0, 630.615, kB1}, {630.615, 1820, kB2}};

/// E of a piece in mV.
template <class N>
N emfOf(const Piece& piece, const N& t) {
    N value = piece.c.back();
    for (std::size_t i = piece.c.size() - 1; i-- > 0;) value = value * t + piece.c[i];
    if (!piece.hasGaussian) return value;
    const N off = t - kGaussian[2];
    return value + kGaussian[0] * exp(kGaussian[1] * off * off);
}

/// The reference function in mV, piece by piece; t within them.
template <class N>
N emfOf(std::span<const Piece> pieces, const N& t) {
    if (pieces.size() == 1) return emfOf(pieces[0], t);
    return choose(
        t <= pieces[0].to_degC, [&] { return emfOf(pieces[0], t); }, [&] { return emfOf(pieces.subspan(1), t); });
}

/// Solves E(t) = emf on one piece, which rises from `low` to `high`: Newton steps, halving where one leaves the
/// bracket.
double solvePiece(const Piece& piece, double low, double high, double emf_mV) {
    constexpr int kMostSteps = 60;
    double t = low + (high - low) * 0.5;
    {
        // A straight line between the ends is a good start everywhere but at the cold end.
        const double atLow = emfOf(piece, low), atHigh = emfOf(piece, high);
        if (atHigh > atLow) t = std::clamp(low + (high - low) * (emf_mV - atLow) / (atHigh - atLow), low, high);
    }
    for (int i = 0; i < kMostSteps; ++i) {
        const auto [value, derivative] = emfOf(piece, Dual(t, 1));
        (value > emf_mV ? high : low) = t;
        double next = t - (value - emf_mV) / derivative;
        if (!(next >= low && next <= high)) next = (low + high) / 2;
        if (next == t || std::abs(next - t) < 1e-13 * (1 + std::abs(t))) return next;
        t = next;
    }
    return t;
}

/// Coefficients of one type.
struct Type {
    char name;
    std::string_view function;  ///< in the trace
    std::span<const Piece> pieces;
    double from_degC;  ///< start of the branch that the inverse takes
    [[nodiscard]] double to_degC() const { return pieces.back().to_degC; }
};

constexpr std::array kTypes{
    Type{'K', "E_K", kPiecesK, -270}, Type{'J', "E_J", kPiecesJ, -210}, Type{'T', "E_T", kPiecesT, -270},
    Type{'N', "E_N", kPiecesN, -270}, Type{'E', "E_E", kPiecesE, -270}, Type{'S', "E_S", kPiecesS, -50},
    Type{'R', "E_R", kPiecesR, -50},  Type{'B', "E_B", kPiecesB, 50},
};

/// The reference function solved for the temperature on the type's rising branch; NaN for a voltage that the type does
/// not give.
double solveType(const Type& type, double emf_mV) {
    for (const Piece& piece : type.pieces) {
        const double low = std::max(piece.from_degC, type.from_degC), high = piece.to_degC;
        // At the joints the printed polynomials differ by some nanovolts; a voltage in such a gap belongs to the piece
        // below it.
        constexpr double kGap_mV = 5e-6, kRounding_mV = 1e-12;
        const bool isLast = &piece == &type.pieces.back();
        if (emf_mV > emfOf(piece, high) + (isLast ? kRounding_mV : 0)) {
            if (isLast || emf_mV >= emfOf(*(&piece + 1), (&piece + 1)->from_degC)) continue;
            return high;
        }
        const double atLow = emfOf(piece, low);
        const double gap_mV = low > type.from_degC ? kGap_mV : kRounding_mV;
        if (emf_mV < atLow) return emf_mV >= atLow - gap_mV ? low : std::nan("");
        return solvePiece(piece, low, high, emf_mV);
    }
    return std::nan("");
}

/// A type's inverse laid down once for the life of the program, when it is first asked for.
const InverseTable& inverseOf(const Type& type) {
    static std::array<std::once_flag, kTypes.size()> made;
    static std::array<std::optional<InverseTable>, kTypes.size()> tables;
    static std::array<std::atomic<const InverseTable*>, kTypes.size()> ready{};
    const auto index = static_cast<std::size_t>(&type - kTypes.data());
    if (const InverseTable* table = ready[index].load(std::memory_order_acquire)) return *table;
    std::call_once(made[index], [&] {
        const Piece &first = type.pieces.front(), &last = type.pieces.back();
        tables[index].emplace([&type](double emf_mV) { return solveType(type, emf_mV); },
                              emfOf(first, std::max(first.from_degC, type.from_degC)), emfOf(last, last.to_degC));
        ready[index].store(&*tables[index], std::memory_order_release);
    });
    return *tables[index];
}

/// What the formula below knows besides numbers.
struct ThermocoupleFixed {
    const Type* type = nullptr;
    double cold_degC = 0, cold_V = 0;  ///< of the nominal cold junction: a batch needn't compute it again
};

/// V = E(t) − E(t_cold); see thermocouple.h.
template <class N>
struct ThermocoupleFormula {
    N cold{};
    ThermocoupleFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"cold_junction_degC", "t_cold", "degC"}, self.cold);
    }

    [[nodiscard]] N forward(const N& t) const {
        const N hot = step("E", "V", kSource, emf_V(t));
        return step("U", "V", "what the two wires give", hot - coldEmf_V());
    }
    [[nodiscard]] N inverse(const N& u) const {
        const N hot = step("E", "V", "cold junction added in voltage, not in temperature", u + coldEmf_V());
        const ThermocoupleFixed& f = fixed;
        return step("t", "degC", kSource,
                    solve(
                        "t", "degC", hot,
                        [&f](double volt) {
                            const double value = inverseOf(*f.type).at(1e3 * volt);
                            // At the very ends rounding may step out of the table.
                            return std::isnan(value) ? solveType(*f.type, 1e3 * volt) : value;
                        },
                        [&](const N& t) { return emf_V(t); }));
    }

    [[nodiscard]] Interval range() const { return {fixed.type->from_degC, fixed.type->to_degC()}; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return fmt::format("Thermocouple type {}, ITS-90", fixed.type->name); }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Voltage); }

    /// The reference function in V against a junction at 0 °C. NaN outside the type's domain (for B from 0 °C).
    [[nodiscard]] N emf_V(const N& t) const {
        const auto pieces = fixed.type->pieces;
        return call(fixed.type->function, t, [&](const N& x) {
            return require(x >= pieces.front().from_degC && x <= pieces.back().to_degC,
                           [&] { return 1e-3 * emfOf(pieces, x); });
        });
    }

  private:
    static constexpr std::string_view kSource = "IEC 60584-1, reference function";
    [[nodiscard]] N coldEmf_V() const {
        if constexpr (std::is_same_v<N, double>)
            if (cold == fixed.cold_degC) return fixed.cold_V;
        return step("E_cold", "V", kSource, emf_V(cold));
    }
};

MadeSensor makeThermocouple(const Parameters& parameters, const SensorContext&) {
    const auto type = parameters.text("type");
    if (!type) return fail(ErrorCode::Missing, "type", "nothing", "the thermocouple's type, one of K J T N E S R B");
    return thermocouple(*type, parameters.numberOr("cold_junction_degC", 25));
}

std::vector<ParameterSpec> thermocoupleParameters(Quantity) {
    return {{.id = "type", .label = "Type", .isText = true, .example = "K"},
            {.id = "cold_junction_degC",
             .label = "Cold junction",
             .quantity = Quantity::Temperature,
             .defaultValue = 25.0,
             .toleranceId = "cold_junction_tolerance_K",
             .tolerance = ToleranceKind::Absolute}};
}

const std::array kRows{
    SensorFamily{.id = "thermocouple",
                 .title = "Thermocouple, ITS-90",
                 .output = Quantity::Voltage,
                 .parameters = thermocoupleParameters,
                 .make = makeThermocouple,
                 .first = {.wiring = "bridge", .converter = "ads1115", .converterParameters = {{"gain", 8.0}}}},
};

}  // namespace

MadeSensor thermocouple(std::string_view type, double coldJunction_degC) {
    const auto known = std::find_if(kTypes.begin(), kTypes.end(), [&](const Type& one) {
        return type.size() == 1 && std::toupper(type[0]) == one.name;
    });
    if (known == kTypes.end())
        return fail(ErrorCode::Unknown, "type", "“" + std::string(type) + "”", "one of K J T N E S R B");
    const bool isB = known->name == 'B';
    if (!(coldJunction_degC >= (isB ? 0 : -40) && coldJunction_degC <= (isB ? 50 : 150)))
        return fail(ErrorCode::Range, "cold_junction_degC", plainNumber(coldJunction_degC),
                    isB ? "a cold junction of 0 to 50 °C" : "a cold junction of −40 to 150 °C");
    ThermocoupleFormula<double> couple;
    couple.fixed.type = &*known;
    couple.cold = couple.fixed.cold_degC = coldJunction_degC;
    couple.fixed.cold_V = couple.emf_V(coldJunction_degC);
    return makeTransfer<ThermocoupleFormula>(couple);
}

std::span<const SensorFamily> thermocoupleFamilies() { return kRows; }

}  // namespace fg
