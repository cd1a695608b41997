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

// Each is made inside of the shelf: what is put there afterwards is dressed in the style a second time, and all in it.
Sheet* SheetShelf::make(Stage stage, bool isDigital) {
    switch (stage) {
        case Stage::World:
            return new WorldSheet(m_workbench, this);
        case Stage::Sensor:
            if (isDigital) {
                auto* sheet = new DeviceSheet(m_workbench, this);
                connect(sheet, &DeviceSheet::chooseWanted, this, &SheetShelf::chooseWanted);
                return sheet;
            } else {
                auto* sheet = new SensorSheet(m_workbench, this);
                connect(sheet, &SensorSheet::chooseWanted, this, &SheetShelf::chooseWanted);
                return sheet;
            }
        case Stage::Wiring:
            return isDigital ? static_cast<Sheet*>(new BusSheet(m_workbench, this))
                             : new WiringSheet(m_workbench, this);
        case Stage::Converter:
            return isDigital ? static_cast<Sheet*>(new BytesSheet(m_workbench, this))
                             : new ConverterSheet(m_workbench, this);
        case Stage::Formula:
            return new FormulaSheet(m_workbench, this);
        case Stage::Correction:
            return new CorrectionSheet(m_workbench, this);
        case Stage::Reading:
            return new ReadingSheet(m_workbench, this);
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
        makeIt = [&] { return new InputsSheet(m_workbench, this); };
    } else if (view && SaidPath::applies(view->spec()) && stage == Stage::Converter) {
        sheet = &m_said;
        makeIt = [&] { return new SaidSheet(m_workbench, this); };
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
