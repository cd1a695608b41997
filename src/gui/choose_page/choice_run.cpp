#include "choose_page/choice_run.h"

#include "widgets/text.h"

namespace fg::gui {

void ChoiceRun::ask(const Need& need) {
    m_run.ask([this, need, &catalogue = m_catalogue]() -> LatestRun::Deliver {
        return [this, answer = choose(need, catalogue)] {
            if (answer)
                emit answered(*answer);
            else
                emit refused(qs(answer.error().message()));
        };
    });
}

}  // namespace fg::gui
