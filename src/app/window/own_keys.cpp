#include "app/window/own_keys.h"

#include <QSettings>

namespace evenclay {

namespace {

constexpr const char* kGroup = "keys";

QString place(const ActionInfo& action) {
  return QString("%1/%2").arg(kGroup, action.id);
}

}  // namespace

void take_own_keys(std::vector<ActionInfo>& actions) {
  const QSettings settings;
  for (ActionInfo& a : actions) a.delivered_key = a.key;
  for (ActionInfo& a : actions) {
    if (!settings.contains(place(a))) continue;
    const auto key =
        QKeySequence::fromString(settings.value(place(a)).toString(), QKeySequence::PortableText);
    if (key.isEmpty() || action_with_key(actions, key, a.id) == nullptr) a.key = key;
  }
}

const ActionInfo* action_with_key(const std::vector<ActionInfo>& actions, const QKeySequence& key,
                                  const QString& but) {
  if (key.isEmpty()) return nullptr;
  for (const ActionInfo& a : actions)
    if (a.id != but && a.key == key) return &a;
  return nullptr;
}

void keep_own_key(const ActionInfo& action, const QKeySequence& key) {
  QSettings settings;
  if (key == action.delivered_key)
    settings.remove(place(action));
  else
    settings.setValue(place(action), key.toString(QKeySequence::PortableText));
}

}  // namespace evenclay
