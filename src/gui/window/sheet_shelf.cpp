#include "window/sheet_shelf.h"

#include "correction/correction_sheet.h"
#include "digital/bus_sheet.h"
#include "digital/bytes_sheet.h"
#include "digital/device_sheet.h"
#include "path/said_path.h"
#include "reading/reading_sheet.h"
#include "sheets/converter_sheet.h"
#include "sheets/formula_sheet.h"
#include "sheets/inputs_sheet.h"
#include "sheets/said_sheet.h"
#include "sheets/sensor_sheet.h"
#include "sheets/wiring_sheet.h"
#include "sheets/world_sheet.h"

namespace fg::gui {

SheetShelf::SheetShelf(Workbench& workbench, QWidget* parent) : QStackedWidget(parent), m_workbench(workbench) {}

Sheet* SheetShelf::make(Stage stage, bool isDigital) {
    switch (stage) {
        case Stage::World:
            return new WorldSheet(m_workbench);
        case Stage::Sensor:
            if (isDigital) {
                auto* sheet = new DeviceSheet(m_workbench);
                connect(sheet, &DeviceSheet::chooseWanted, this, &SheetShelf::chooseWanted);
                return sheet;
            } else {
                auto* sheet = new SensorSheet(m_workbench);
                connect(sheet, &SensorSheet::chooseWanted, this, &SheetShelf::chooseWanted);
                return sheet;
            }
        case Stage::Wiring:
            return isDigital ? static_cast<Sheet*>(new BusSheet(m_workbench)) : new WiringSheet(m_workbench);
        case Stage::Converter:
            return isDigital ? static_cast<Sheet*>(new BytesSheet(m_workbench)) : new ConverterSheet(m_workbench);
        case Stage::Formula:
            return new FormulaSheet(m_workbench);
        case Stage::Correction:
            return new CorrectionSheet(m_workbench);
        case Stage::Reading:
            return new ReadingSheet(m_workbench);
    }
    return nullptr;
}

void SheetShelf::showChosen() {
    const GaugeView* view = m_workbench.current();
    // A gauge with fewer stages shows its reading instead; the stage is told to everybody, this shelf included.
    if (view && !view->has(m_workbench.stage())) return m_workbench.selectStage(Stage::Reading);
    const Stage stage = m_workbench.stage();
    const bool hasOwn = stage == Stage::Sensor || stage == Stage::Wiring || stage == Stage::Converter;
    Sheet** sheet = &m_analog[static_cast<std::size_t>(stage)];
    std::function<Sheet*()> makeIt = [&] { return make(stage, false); };
    if (view && view->isDerived() && stage == Stage::Sensor) {
        sheet = &m_inputs;
        makeIt = [&] { return new InputsSheet(m_workbench); };
    } else if (view && SaidPath::applies(view->spec()) && stage == Stage::Converter) {
        sheet = &m_said;
        makeIt = [&] { return new SaidSheet(m_workbench); };
    } else if (hasOwn && view && m_workbench.catalogue().findDevicePart(view->spec().sensor.part)) {
        sheet = &m_digital[static_cast<std::size_t>(stage)];
        makeIt = [&] { return make(stage, true); };
    }
    if (!*sheet) {
        *sheet = makeIt();
        addWidget(*sheet);
    }
    setCurrentWidget(*sheet);
}

}  // namespace fg::gui
