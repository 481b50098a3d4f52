"""Our own invented machines. Each is an open ``yattle-brake/1`` value; a job may carry its own."""

from __future__ import annotations

from yattle.brake.machine import SHOP_BRAKE, Brake, Springback, gauges

RAIL_BRAKE = SHOP_BRAKE.but(
    name="shop leaf brake, thin rail", leaf=((0.0, 0.0), (14.0, 0.0), (14.0, -60.0), (50.0, -100.0), (50.0, -140.0),
                                            (0.0, -140.0)))
"""The sample machine with a thin leaf rail, on which narrow zeds and cleats can be made."""

SITE_BRAKE = Brake(
    name="light site brake", max_length=2600, max_thickness=0.8,
    by_metal=gauges(stainless_steel=0.5, aluminium=1.2), max_turn=135, throat=320, min_flange=9.0, min_hold=12.0,
    clamp=((0.0, 0.0), (-62.0, 46.0), (-62.0, 90.0), (-340.0, 90.0), (-340.0, 62.0), (-110.0, 62.0), (-14.0, 0.0)),
    leaf=((0.0, 0.0), (28.0, 0.0), (28.0, -24.0), (0.0, -70.0)),
    bed=((0.0, 0.0), (-26.0, 0.0), (-60.0, -50.0), (0.0, -70.0)),
    can_flatten=True, springback=Springback(ratio=1.04))
"""Carried up to the roof: shallow throat, a steep nose, a broad leaf."""

FINGER_BRAKE = Brake(
    name="finger brake", max_length=1250, max_thickness=1.5,
    by_metal=gauges(stainless_steel=1.0, aluminium=2.0), max_turn=135, throat=900, min_flange=10.0, min_hold=15.0,
    clamp=((0.0, 0.0), (-70.0, 70.0), (-70.0, 240.0), (-200.0, 240.0), (-200.0, 160.0), (-90.0, 60.0), (-16.0, 0.0)),
    leaf=((0.0, 0.0), (22.0, 0.0), (22.0, -12.0), (60.0, -70.0), (60.0, -120.0), (0.0, -120.0)),
    bed=((0.0, 0.0), (-20.0, 0.0), (-70.0, -60.0), (-70.0, -120.0), (0.0, -120.0)),
    can_flatten=True, springback=Springback(ratio=1.03))
"""Short and strong, with segments that can be left out; deep room behind the jaw."""

LIBRARY: tuple[Brake, ...] = (SHOP_BRAKE, RAIL_BRAKE, SITE_BRAKE, FINGER_BRAKE)
