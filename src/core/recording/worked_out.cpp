#include "recording/worked_out.h"

#include "bench/linked_inputs.h"
#include "path/derived_path.h"

namespace fg {

BenchRecording withWorkedOut(BenchRecording recording, const Bench& bench) {
    // In the order of their links: one that takes the reading of another derived gauge comes after it.
    for (const BenchGauge* gauge : inLinkOrder(bench)) {
        if (!DerivedPath::applies(gauge->spec) || gauge->spec.inputs.empty() || recording.trackOf(gauge->id)) continue;
        const Track* most = nullptr;
        bool hasAll = true;
        for (const auto& [field, input] : gauge->spec.inputs) {
            const Track* track = recording.trackOf(input.gauge);
            hasAll &= track != nullptr;
            if (track && (!most || track->count > most->count)) most = track;
        }
        if (!hasAll) continue;
        Track track = *most;
        track.gauge = gauge->id;
        track.descriptions = {{recording.started_us, gauge->spec}};
        track.isWorkedOut = true;
        recording.tracks.push_back(std::move(track));
    }
    return recording;
}

}  // namespace fg
