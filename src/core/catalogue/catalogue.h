#pragma once

#include "catalogue/body.h"
#include "catalogue/device_part.h"
#include "catalogue/outline.h"
#include "catalogue/part.h"
#include "catalogue/register_file.h"
#include "units/error.h"

#include <filesystem>
#include <optional>
#include <span>

namespace fg {

/// All parts and converters: what ships with the product, then what the user added. A user's entry with a shipped id is
/// refused, not preferred.
class JsonFields;

class Catalogue {
  public:
    /// Reads parts/*.json, devices/*.json and converters/*.json below each folder, in the order given; a folder that
    /// does not exist is skipped. Entries that cannot be used are left out and told in problems(); the rest works.
    [[nodiscard]] static Catalogue read(std::span<const std::filesystem::path> folders);

    /// The folders of this installation: $FAIRGAUGE_DATA or the shipped data, then $XDG_DATA_HOME/fair-gauge.
    [[nodiscard]] static std::vector<std::filesystem::path> standardFolders();

    /// Adds one part from JSON text; errors name `file` and the field.
    [[nodiscard]] Expected<void> addPart(const std::string& json, const std::string& file);
    [[nodiscard]] Expected<void> addConverter(const std::string& json, const std::string& file);

    [[nodiscard]] const std::vector<Part>& parts() const { return m_parts; }
    [[nodiscard]] Expected<void> addDevice(const std::string& json, const std::string& file);
    [[nodiscard]] const std::vector<DevicePart>& devices() const { return m_devices; }
    [[nodiscard]] const DevicePart* findDevicePart(const std::string& idOrAlias) const;
    [[nodiscard]] Expected<void> addRegisterMap(const std::string& json, const std::string& file);
    [[nodiscard]] const std::vector<RegisterMap>& registerMaps() const { return m_registerMaps; }
    /// The register map of a designation; null when the part has nothing to configure, or nobody wrote it down yet.
    [[nodiscard]] const RegisterMap* findRegisterMap(const std::string& part) const;
    [[nodiscard]] Expected<void> addBodies(const std::string& json, const std::string& file);
    /// What parts look like to the world they are put into, by id.
    [[nodiscard]] const Bodies& bodies() const { return m_bodies; }
    [[nodiscard]] Expected<void> addOutline(const std::string& json, const std::string& file);
    /// The bodies that are drawn, by id.
    [[nodiscard]] const Outlines& outlines() const { return m_outlines; }
    [[nodiscard]] const std::vector<ConverterPart>& converters() const { return m_converters; }
    [[nodiscard]] const std::vector<Error>& problems() const { return m_problems; }

    /// By id or alias, case ignored; null when nobody knows it.
    [[nodiscard]] const Part* findPart(const std::string& idOrAlias) const;
    [[nodiscard]] const ConverterPart* findConverter(const std::string& idOrAlias) const;

    /// findPart(), or, when the name is that of a formula family, a part without any fixed parameters. Error: Unknown,
    /// with near names.
    [[nodiscard]] Expected<Part> partOrFamily(const std::string& name, Quantity measurand) const;

  private:
    using Add = Expected<void> (Catalogue::*)(const std::string& json, const std::string& file);
    void readFolder(const std::filesystem::path& folder, Add add);

    void checkBody(JsonFields& fields, const std::string& body) const;
    [[nodiscard]] Expected<void> checkPins(const PartFacts& part, const std::string& file) const;

    Bodies m_bodies;
    Outlines m_outlines;
    std::vector<Part> m_parts;
    std::vector<ConverterPart> m_converters;
    std::vector<DevicePart> m_devices;
    std::vector<RegisterMap> m_registerMaps;
    std::vector<Error> m_problems;
};

}  // namespace fg
