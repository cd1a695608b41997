#pragma once

#include "devices/device.h"

namespace fg::device_rows {

// One decoder a file; listed in registry.cpp. Internal to the room.
extern const Device kDs18b20, kDs18s20, kLm75, kTmp102, kTmp117, kMcp9808, kAdt7410, kDs3231, kMax6675, kMax31855,
    kMax31865, kMcp9600;
extern const Device kDht11, kDht22, kAm2320, kAht20, kSht3x, kSht4x, kSi7021, kHdc1080, kHdc2080, kHts221;
extern const Device kBmp180, kBmp280, kBme280, kBmp388, kBme680, kMs5611, kMs5607, kMs5837, kMs583702, kMpl115a2,
    kDps310, kLps22hb, kLps25hb;
extern const Device kBh1750, kTsl2561, kVeml7700, kOpt3001, kMax44009;
extern const Device kHx711, kNau7802, kAds1115;

}  // namespace fg::device_rows
