#!/usr/bin/python3
"""Reads the running program as an assistive program does (AT-SPI over D-Bus), and says what has no name.

Usage: dbus-run-session -- accessible_tree.py PROGRAM [ARGUMENTS]
Needs a display, the packages at-spi2-core, gir1.2-atspi-2.0 and python3-gi.
"""
import os
import subprocess
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402

# What is operated, and so must say what it is.
OPERATED = {
    "push button", "toggle button", "check box", "radio button", "combo box", "spin button", "slider", "text", "entry",
    "menu item", "check menu item", "menu", "tree", "tree table", "tree item", "table cell", "list", "list item", "page tab",
    "page tab list", "editbar",
}
MUST_BE_THERE = ["Model view", "2 Rebuild", "Sphere", "Parts", "Deviation", "Undo", "Shell"]


def application(name, seconds):
    """The program among those that are to be seen, once it has windows."""
    end = time.time() + seconds
    while time.time() < end:
        desktop = Atspi.get_desktop(0)
        for k in range(desktop.get_child_count()):
            found = desktop.get_child_at_index(k)
            if found is not None and name in (found.get_name() or "").lower() and found.get_child_count() > 0:
                return found
        time.sleep(0.5)
    return None


def walk(node, path, seen):
    """Every accessible beneath, with the names above it."""
    role = node.get_role_name()
    name = (node.get_name() or "").strip()
    seen.append((role, name, path, node.get_state_set()))
    for k in range(min(node.get_child_count(), 500)):
        child = node.get_child_at_index(k)
        if child is not None:
            walk(child, path + "/" + (name or role), seen)


def find(node, wanted):
    """The first accessible beneath for which wanted() is true."""
    if wanted(node):
        return node
    for k in range(min(node.get_child_count(), 500)):
        child = node.get_child_at_index(k)
        found = find(child, wanted) if child is not None else None
        if found is not None:
            return found
    return None


def press(root, name):
    """Does what a press of the button would."""
    button = find(root, lambda n: n.get_role_name() in ("push button", "toggle button") and n.get_name() == name)
    if button is None:
        return False
    action = button.get_action_iface()
    return action is not None and action.do_action(0)


def appears(root, name, seconds=30):
    """Whether something whose name begins so is there after a while."""
    end = time.time() + seconds
    while time.time() < end:
        if find(root, lambda n: (n.get_name() or "").startswith(name)) is not None:
            return True
        time.sleep(0.5)
    return False


def main():
    environment = dict(os.environ, QT_LINUX_ACCESSIBILITY_ALWAYS_ON="1")
    program = subprocess.Popen(sys.argv[1:], env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        found = application("even", 60)
        if found is None:
            sys.exit("The program is not to be seen through AT-SPI.")
        seen, names = [], set()
        end = time.time() + 60
        while time.time() < end:  # until the demo is there
            seen = []
            walk(found, "", seen)
            names = {name for _, name, _, _ in seen}
            if all(any(n.startswith(wanted) for n in names) for wanted in MUST_BE_THERE):
                break
            time.sleep(1.0)
        nameless = [(role, path) for role, name, path, state in seen
                    if role in OPERATED and not name and state.contains(Atspi.StateType.SHOWING)]
        for role, path in nameless:
            print(f"no name: a {role} in {path}")
        missing = [w for w in MUST_BE_THERE if not any(n.startswith(w) for n in names)]
        for wanted in missing:
            print(f"not there: {wanted}")
        focusable = [s for s in seen if s[3].contains(Atspi.StateType.FOCUSABLE) and s[3].contains(Atspi.StateType.SHOWING)]
        operated = press(found, "Torus") and appears(found, "1 Torus")
        if not operated:
            print("a press of Torus made no torus")
        print(f"{len(seen)} accessibles, {len(focusable)} to be reached by keyboard, {len(nameless)} without a name")
        sys.exit(1 if nameless or missing or not operated or len(focusable) < 20 else 0)
    finally:
        program.terminate()
        program.wait(20)


main()
