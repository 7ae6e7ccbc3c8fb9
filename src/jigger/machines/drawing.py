"""What a stand-in has drawn of a job: its lines in mm on the bed, and the picture made of nothing else."""

from dataclasses import dataclass, field

Point = tuple[float, float]


@dataclass
class Drawing:
    """A run of strokes for each tool. `lifted`: how often the tool was lifted off a line, so many strokes are whole."""

    title: str = ""
    strokes: list[tuple[int, list[Point]]] = field(default_factory=list)
    lifted: int = 0
    _down: bool = False

    def lift(self) -> None:
        """The tool came off a line."""
        self.lifted += 1
        self._down = False

    def mark(self, tool: int, start: Point, points: list[Point]) -> None:
        """A line from where the tool is, on from the last one where it was not lifted meanwhile."""
        if self._down and self.strokes[-1][0] == tool and self.strokes[-1][1][-1] == start:
            self.strokes[-1][1].extend(points)
        else:
            self.strokes.append((tool, [start, *points]))
        self._down = True

    def svg(self) -> str:
        """The picture, y up on the bed and so turned over for the screen; sizes in mm. `data-left` and `data-foot` say
        where on the bed it lies.
        """
        points = [point for _, stroke in self.strokes for point in stroke]
        if not points:
            return '<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"></svg>'
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        left, top = min(xs), max(ys)
        width, height = max(xs) - left, top - min(ys)
        pen = max(width, height, 1.0) / 250
        rows = [
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
            f'viewBox="{-pen:.3f} {-pen:.3f} {width + 2 * pen:.3f} {height + 2 * pen:.3f}" '
            f'data-left="{left:.3f}" data-foot="{min(ys):.3f}">'
        ]
        for tool, stroke in self.strokes:
            words = " ".join(f"{x - left:.3f},{top - y:.3f}" for x, y in stroke)
            rows.append(
                f'<polyline data-pen="{tool}" fill="none" stroke="#23302f" stroke-width="{pen:.3f}" points="{words}"/>'
            )
        return "\n".join([*rows, "</svg>"])
