// What nearly every test includes, compiled once.
#pragma once

#include "support.h"

#include <nlohmann/json.hpp>
#include <string>
#include <vector>
