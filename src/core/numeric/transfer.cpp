#include "numeric/transfer.h"

#include "formula/text.h"

namespace fg {

std::vector<TraceLine> Transfer::explainForward(double x) const {
    Recording recording;
    return linesOf(recordForward(recording, x));
}

std::vector<TraceLine> Transfer::explainInverse(double y) const {
    Recording recording;
    return linesOf(recordInverse(recording, y));
}

}  // namespace fg
