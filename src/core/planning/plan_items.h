#pragma once

#include "path/analog_path.h"
#include "planning/plan.h"
#include "timing/consequences.h"

namespace fg::plan {

/// One thing on the bench: an analog gauge, or a device with all the gauges it feeds.
struct Item {
    std::vector<const BenchGauge*> gauges;
    const DevicePart* device = nullptr;
    const ConverterPart* converter = nullptr;  ///< of an analog gauge, where its converter is one of the catalogue
    std::optional<AnalogPath> path;            ///< of an analog gauge that can be built
    GaugePlace place;                          ///< as said for the first of its gauges that has one
    std::vector<FieldValue> settings;          ///< of its registers, as the gauge keeps them
    std::vector<Consequence> consequences;     ///< of its settings; empty where the gauge says nothing of them

    [[nodiscard]] const GaugeSpec& spec() const { return gauges.front()->spec; }
    /// What the catalogue knows of it; null for an analog gauge that cannot be built.
    [[nodiscard]] const PartFacts* facts() const;
    [[nodiscard]] std::string name() const;
    [[nodiscard]] std::vector<std::int64_t> ids() const;
    [[nodiscard]] bool isOn(const PlanGroup& group) const;
    /// What follows from the gauge's settings ("conversion_s", "conversion_max_s", "poll_s", "current_A"); nothing
    /// where it has none.
    [[nodiscard]] std::optional<double> settingValue(std::string_view id) const;
    /// The place that its gain leaves it on its converter ("A1"); nothing where every one will do.
    [[nodiscard]] std::optional<std::string> inputByGain() const;
    /// Length of its cable: as given for its place, else as its wiring says.
    [[nodiscard]] double cable_m() const;
    /// Of a part with a line for itself that needs a pull-up (single-bus); nothing for all others.
    [[nodiscard]] std::optional<PullUpAnswer> ownPullUp() const;
};

/// Every gauge once; gauges of one channel and part are one device.
[[nodiscard]] std::vector<Item> itemsOf(const Bench& bench, const Catalogue& catalogue);

/// What a thing draws and what it is fed with when nobody says: 3.3 V or 5 V where its part works at them, else its
/// lowest.
[[nodiscard]] double wantedSupply_V(const Item& item);
[[nodiscard]] Interval worksAt_V(const Item& item);

[[nodiscard]] std::vector<PlanGroup> groupsOf(const std::vector<Item>& items, const Board& board);
[[nodiscard]] PlanSchedule scheduleOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups,
                                      const Board& board);
[[nodiscard]] std::vector<PlanRail> railsOf(const std::vector<Item>& items, const Board& board,
                                            const PlanSchedule& schedule, const Catalogue& catalogue);
/// Of the items, in their order, and behind them of the stand-alone converters.
[[nodiscard]] std::vector<PinWires> wiresOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups,
                                            const std::vector<Rail>& rails,
                                            const std::map<std::string, GaugePlace>& converters,
                                            const Catalogue& catalogue);
/// `wires`: what wiresOf() made of the same items.
[[nodiscard]] std::vector<CableRun> cablesOf(const std::vector<Item>& items, const std::vector<PlanRail>& rails,
                                             const std::vector<PinWires>& wires);
/// The pull-up that a line wants beside those of its modules: as given, else as worked out; 0: none.
[[nodiscard]] double pullUpToAdd_ohm(const PlanGroup& group);
[[nodiscard]] std::vector<PartsLine> partsOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups);
[[nodiscard]] std::vector<Finding> benchFindings(const std::vector<Item>& items, const BenchPlan& plan,
                                                 const Board& board);
[[nodiscard]] std::vector<Finding> benchCautions(const std::vector<Item>& items);

/// The rail that feeds a thing; null when none of them suits.
[[nodiscard]] const Rail* railFor(const Item& item, const std::vector<Rail>& rails);
/// As said, or made up from what the things on the bench want.
[[nodiscard]] std::vector<Rail> railsSaidOrWanted(const std::vector<Item>& items, const Board& board);

}  // namespace fg::plan
