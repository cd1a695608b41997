#include "path/gauge_stages.h"

#include "path/derived_path.h"
#include "path/said_path.h"

namespace fg {

bool hasStage(const GaugeSpec& spec, Stage stage) {
    if (DerivedPath::applies(spec))
        return stage == Stage::Sensor || stage == Stage::Formula || stage == Stage::Correction ||
               stage == Stage::Reading;
    if (SaidPath::applies(spec)) return stage != Stage::Sensor && stage != Stage::Wiring;
    return true;
}

}  // namespace fg
