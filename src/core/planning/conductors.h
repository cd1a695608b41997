#pragma once

#include "planning/plan_items.h"

namespace fg::plan {

/// A wire before it is known which pin it starts at.
struct Conductor {
    std::string name;
    PinRole role = PinRole::Other;  ///< Other without `pins`: an end without a name of its own, either way round
    std::string to;
    std::vector<std::string> pins = {};  ///< names that its pin may have; empty: the role tells it
    bool isOptional = false;             ///< there is a pin for it on some bodies only
    [[nodiscard]] bool isEitherEnd() const { return role == PinRole::Other && pins.empty(); }
};

/// What leads away from a part.
struct Conductors {
    std::vector<Conductor> wires;
    std::vector<std::string> beside;       ///< what is soldered beside the wires, and straps; sentences
    std::vector<std::string> inputs = {};  ///< words that name an input on a module, in use or free
};

[[nodiscard]] Conductors conductorsOf(const Item& item, const std::vector<PlanGroup>& groups, const Rail* rail,
                                      const Catalogue& catalogue);

/// Of a stand-alone converter with what hangs on it. `group`: its own; cables are numbered as `items` are.
[[nodiscard]] Conductors conductorsOf(const ConverterPart& converter, const PlanGroup& group,
                                      const std::vector<Item>& items, const std::vector<Rail>& rails);

}  // namespace fg::plan
