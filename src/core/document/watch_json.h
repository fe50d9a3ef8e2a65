// Watches and limits of the checks as they are kept in project files.
#pragma once

#include <nlohmann/json.hpp>

#include "core/document/document.h"

namespace evenclay {

nlohmann::ordered_json watch_json(const Watch& watch);
/// Throws Error when the band is not above 0.
Watch read_watch(const nlohmann::ordered_json& j);

/// Only what differs from the limits a new project has; empty when nothing does.
nlohmann::ordered_json limits_json(const CheckLimits& limits);
/// Throws Error as with_limits() does.
CheckLimits read_limits(const nlohmann::ordered_json& j);

}  // namespace evenclay
