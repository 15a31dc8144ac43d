"""The dialog that chooses what is checked in a folder's tunes, with the reason for each check and its limits."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ..checks import CHECKS, LIMITS, USUAL, Check, Profile
from ..faults import InputFault
from .clicks import on_click
from .plain_dialogs import PlainForm
from .plain_text import PlainLabel
from .theme import Look

__all__ = ["ChecksDialog"]


class ChecksDialog(QDialog):
    """Edits a profile. Its rows are made from the registry of checks."""

    def __init__(self, profile: Profile, folder: str, look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("What is checked")
        self.boxes: dict[str, QCheckBox] = {}
        self.limits: dict[str, QLineEdit] = {}
        self._usual = {check.rule.code: check.usual for check in CHECKS}
        page = QWidget()
        column = QVBoxLayout(page)
        column.setSpacing(look.px(3))
        for check in CHECKS:
            column.addWidget(self._box(check))
            why = PlainLabel(check.why)
            why.setWordWrap(True)
            why.setObjectName("panelNote")
            why.setIndent(look.px(16))
            column.addWidget(why)
            form = PlainForm()
            form.setContentsMargins(look.px(34), 0, 0, look.px(6))
            for name in check.limits:
                form.addRow(f"{LIMITS[name].label}:", self._field(name))
            column.addLayout(form)
        area = QScrollArea()
        area.setWidget(page)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.fault = PlainLabel()
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.keep = QPushButton("Keep for this folder" if folder else "Use for now")
        usual = QPushButton("As usual")
        usual.setToolTip("Reset every check to its default")
        on_click(usual, self.show_profile, USUAL)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel, self)
        buttons.addButton(self.keep, QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton(usual, QDialogButtonBox.ButtonRole.ResetRole)
        buttons.accepted.connect(self._keep)
        buttons.rejected.connect(self.reject)
        whole = QVBoxLayout(self)
        where = f"in the tunes of {folder}" if folder else "until this tune is saved in a folder"
        whole.addWidget(PlainLabel(f"What is checked {where}:"))
        whole.addWidget(area, 1)
        whole.addWidget(self.fault)
        whole.addWidget(buttons)
        self.resize(look.px(560), look.px(620))
        self.show_profile(profile)

    def show_profile(self, profile: Profile) -> None:
        """Show which rules a profile asks for, and by what measure."""
        for code, box in self.boxes.items():
            box.setChecked(profile.asks_for(code, self._usual[code]))
        for name, field in self.limits.items():
            field.setText(profile.limits.get(name, LIMITS[name].usual))

    @property
    def profile(self) -> Profile:
        """The profile in the fields; only what differs from the usual is in it. Raises ValueError with a sentence."""
        switched = {code: box.isChecked() for code, box in self.boxes.items() if box.isChecked() != self._usual[code]}
        limits = {name: field.text().strip() for name, field in self.limits.items()}
        limits = {name: text for name, text in limits.items() if text and text != LIMITS[name].usual}
        for name, text in limits.items():
            LIMITS[name].read(text)
        return Profile(switched, limits)

    def _keep(self) -> None:
        try:
            self.profile  # noqa: B018 - a limit that cannot be read is said here
        except InputFault as fault:
            self.fault.setText(str(fault))
            self.fault.show()
            return
        self.accept()

    def _box(self, check: Check) -> QCheckBox:
        box = QCheckBox(check.rule.summary.rstrip("."))
        box.setAccessibleDescription(check.why)
        self.boxes[check.rule.code] = box
        return box

    def _field(self, name: str) -> QLineEdit:
        field = QLineEdit()
        field.setPlaceholderText(LIMITS[name].example)
        field.setAccessibleName(LIMITS[name].label)
        self.limits[name] = field
        return field
