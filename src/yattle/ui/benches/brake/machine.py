"""The machine that the brake bench folds on: which one, its measures and the outlines of its tools."""

from __future__ import annotations

from yattle.brake import LIBRARY
from yattle.brake.machine import GaugeOfMetal
from yattle.job.in_use import with_brake
from yattle.measure import parse_angle
from yattle.ui.benches.model import BenchModel
from yattle.ui.drawing.handles import ToolCorner


class MachineHand:
    """The job's brake in the hand."""

    def __init__(self, bench: BenchModel) -> None:
        self.bench, self.store = bench, bench.store

    def brakes(self) -> list[tuple[str, str]]:
        names = [brake.name for brake in LIBRARY]
        own = self.store.session.job.brake.name  # a machine read from a file stands before the library's
        return [(name, name) for name in (names if own in names else [own, *names])]

    def put_brake(self, name: str) -> str | None:
        brake = next((brake for brake in LIBRARY if brake.name == name), None)
        if brake is None:
            return None
        return self.store.attempt(lambda: self.store.session.edit(
            "brake", lambda job: with_brake(job, brake)))

    def corners(self) -> list[ToolCorner]:
        brake = self.store.session.job.brake
        return [ToolCorner(tool, n, at) for tool in ("clamp", "bed", "leaf") for n,
                at in enumerate(getattr(brake, tool))]

    def _reshape(self, tool: str, ring: list[tuple[float, float]]) -> None:
        """A new outline for a tool; one that cannot be is said and nothing changes."""
        self.store.attempt_aloud(lambda: self._set(f"{tool} outline", **{tool: tuple(ring)}))
        self.bench.changed()

    def move_corner(self, tool: str, index: int, x: float, y: float) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        ring[index] = (x, y)
        self._reshape(tool, ring)

    def add_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        a, b = ring[index], ring[(index + 1) % len(ring)]
        ring.insert(index + 1, (round((a[0] + b[0]) / 2), round((a[1] + b[1]) / 2)))
        self._reshape(tool, [(float(x), float(y)) for x, y in ring])

    def remove_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        self._reshape(tool, ring[:index] + ring[index + 1:])

    def put_length(self, name: str, title: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set(title, **{name: self.bench.length_from(text, title)}))

    def put_gauge(self, text: str) -> str | None:
        """How thick the job's metal may be on this machine; an empty text takes back what was said of it."""
        job = self.store.session.job
        metal = job.metal_used.name

        def put() -> None:
            others = tuple(one for one in job.brake.by_metal if one.metal.lower() != metal.lower())
            if text.strip():
                thickest = self.bench.length_from(text, "in this metal")
                others = (*others, GaugeOfMetal(metal=metal, thickness=thickest))
            self._set(f"for {metal}", by_metal=others)
        return self.store.attempt(put)

    def put_number(self, name: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set("greatest turn", **{name: parse_angle(text, "greatest turn")}))

    def put_springback(self, text: str) -> str | None:
        spring = self.store.session.job.brake.springback
        return self.store.attempt(lambda: self._set(
            "springback", springback=spring.but(ratio=parse_angle(text, "springback"))))

    def put_offset(self, text: str) -> str | None:
        spring = self.store.session.job.brake.springback
        return self.store.attempt(lambda: self._set(
            "leaf's scale", springback=spring.but(offset=parse_angle(text, "leaf's scale"))))

    def _set(self, title: str, **changes: object) -> None:
        self.store.session.edit(f"brake {title}", lambda job: job.but(brake=job.brake.but(**changes)))
