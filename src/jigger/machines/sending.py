"""How a program is sent, by the language that it is in."""

from collections.abc import Callable, Mapping, Sequence

from jigger.machines.gcode_line import send_gcode
from jigger.machines.hpgl_line import send_hpgl
from jigger.machines.line import Progress

Sender = Callable[[tuple[str, int], str, Sequence[str], Progress], None]
SENDERS: Mapping[str, Sender] = {"hpgl": send_hpgl, "gcode": send_gcode}
