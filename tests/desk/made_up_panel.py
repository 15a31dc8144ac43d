"""A panel that nobody else knows of, and a desk that has it. Run by test_panels in a process of its own."""

from __future__ import annotations

import sys
from operator import methodcaller

from PyQt6.QtWidgets import QApplication, QLabel, QVBoxLayout

from chickadee.desk import panels
from chickadee.desk.app import application, destroy, furnish, shown_window
from chickadee.desk.working.panel import Panel
from chickadee.desk.working.spec import PanelAction, PanelGroup, PanelSize, PanelSpec


# The panel
class TallyPanel(Panel):
    """Counts the selected notes."""

    def __init__(self, context):
        super().__init__(context)
        self.label = QLabel()
        self.loud = False
        QVBoxLayout(self).addWidget(self.label)

    def set_look(self, look):
        self.label.setStyleSheet(f"font-size: {look.px(30 if self.loud else 13)}px")

    def be_loud(self, on):
        self.loud = on
        self.set_look(self.look)

    def select_all(self):
        self.context.selection.choose_notes(list(range(len(self.context.selection.scene.song.notes))))

    def show_selection(self, notes):
        self.label.setText(f"{len(notes)} of {len(self.context.selection.scene.song.notes)}")


TALLY = PanelSpec(
    "tally", "Ta&lly", PanelGroup.MAKE, "How many notes are selected", "Ctrl+Shift+9", lambda: TallyPanel,
    actions=(
        PanelAction("tally.all", "notes/select", "Tall&y all", "Ctrl+Shift+F9", "Every note", methodcaller("select_all")),
        PanelAction("tally.loud", "view/look", "Loud tall&y", None, "Large", switch=TallyPanel.be_loud),
    ),
)  # fmt: skip


# The desk that has it
def main():
    panels.PANELS = (*panels.PANELS, TALLY)
    app = application()
    window = shown_window()
    desk = furnish(window)
    panel = desk.panel("tally")
    arrangement = desk.arrangement
    desk.document.begin("C4 D4 E4")
    desk.actions_by_id["panel.tally"].trigger()
    QApplication.processEvents()
    print("seen", panel.isVisible(), [action.text() for action in desk.menus.menus["view"].actions()].count("Ta&lly"))
    desk.actions_by_id["tally.all"].trigger()
    print("fed", panel.label.text())
    for _ in PanelSize:
        print(
            "size",
            desk.working.size_taken.value,
            desk.editor.isVisible(),
            desk.timeline.isVisible(),
            desk.keyboard.isVisible(),
        )
        desk.actions_by_id["panel.size"].trigger()
        QApplication.processEvents()
    before = panel.label.font().pixelSize()
    desk.actions_by_id["look.projector"].trigger()
    desk.actions_by_id["tally.loud"].trigger()
    print("look", panel.label.font().pixelSize() > 2 * before)
    desk.actions_by_id["panel.findings"].trigger()
    desk.actions_by_id["panel.size"].trigger()
    desk.actions_by_id["panel.tally"].trigger()
    print("kept", desk.settings.is_on("tally.loud", False), desk.working.size_taken.value, arrangement.height() > 0)
    desk.player.close()
    destroy(window)
    del app


if __name__ == "__main__":
    main()
    sys.exit(0)
