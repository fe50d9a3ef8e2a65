// Keys that the user has given to actions, kept with the settings.
#pragma once

#include <QKeySequence>
#include <QString>
#include <vector>

#include "app/stages/stages.h"

namespace evenclay {

/// Puts the user's keys in the place of those that actions come with; keys that two actions would share stay with the first.
void take_own_keys(std::vector<ActionInfo>& actions);

/// The action that has the key, besides `but`; null when it is free.
const ActionInfo* action_with_key(const std::vector<ActionInfo>& actions, const QKeySequence& key,
                                  const QString& but);

/// Keeps a key as the user's own; the same as it came with is forgotten.
void keep_own_key(const ActionInfo& action, const QKeySequence& key);

}  // namespace evenclay
