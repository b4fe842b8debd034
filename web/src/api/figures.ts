// Generated from internal/core by make generate.

/** An input or output of a figure. */
export type FigureField = {
  path: string
  doc?: string
  unit?: string
  kind: string
  min?: number
  max?: number
  choices?: string[]
  needed?: boolean
}

/** A figure by itself, with an example of what goes in. */
export type QuickFigure = { name: string; does: string; example: object; in: FigureField[]; out: FigureField[] }

/** Every figure that can be computed by itself. */
export const quickFigures: QuickFigure[] = [
  {
    "name": "anchor",
    "does": "tension of each leg of an anchor, and what happens if one goes",
    "example": {
      "legs": [
        {
          "id": "rail",
          "x": -0.6,
          "y": 1.2,
          "elongation_pct": 4
        },
        {
          "id": "bolt",
          "x": 0.3,
          "y": 0.9,
          "elongation_pct": 4
        }
      ],
      "load_kN": 1.5
    },
    "in": [
      {
        "path": "load_kN",
        "unit": "kN",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "direction.x",
        "kind": "number",
        "needed": true
      },
      {
        "path": "direction.y",
        "doc": "up is positive",
        "kind": "number",
        "needed": true
      },
      {
        "path": "direction.z",
        "kind": "number"
      },
      {
        "path": "legs.id",
        "kind": "text",
        "needed": true
      },
      {
        "path": "legs.x",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "legs.y",
        "doc": "up is positive",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "legs.z",
        "unit": "m",
        "kind": "number"
      },
      {
        "path": "legs.elongation_pct",
        "doc": "of the leg's material between 50 and 150 kg",
        "unit": "%",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "legs.id",
        "kind": "text",
        "needed": true
      },
      {
        "path": "legs.tension_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "legs.slack",
        "doc": "it hangs loose and carries nothing",
        "kind": "yes",
        "needed": true
      },
      {
        "path": "widest_angle_deg",
        "doc": "between taut legs, 0 for one",
        "unit": "°",
        "kind": "number",
        "needed": true
      },
      {
        "path": "lost.id",
        "kind": "text",
        "needed": true
      },
      {
        "path": "lost.drop_m",
        "doc": "of the master point, in the direction of the load; null where nothing holds it then",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "lost.peak_kN",
        "doc": "on the master point; null where the elongation of a leg that then carries is not stated",
        "unit": "kN",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "redirect",
    "does": "load on a point where a rope changes its direction",
    "example": {
      "included_angle_deg": 60,
      "t1_kN": 1.2,
      "t2_kN": 1.2
    },
    "in": [
      {
        "path": "t1_kN",
        "unit": "kN",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "t2_kN",
        "unit": "kN",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "included_angle_deg",
        "doc": "between the two parts of the rope; 0: both run the same way",
        "unit": "°",
        "kind": "number",
        "min": 0,
        "max": 180,
        "needed": true
      }
    ],
    "out": [
      {
        "path": "resultant_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "haul",
    "does": "ratio, forces and strokes of a haul system",
    "example": {
      "efficiency": 0.9,
      "load_kg": 180,
      "raise_m": 12,
      "reeving": [
        {
          "rope": "haul",
          "path": [
            "hand",
            "pulley:A@grab:G",
            "pulley:B@anchor",
            "grab:G"
          ]
        },
        {
          "rope": "main",
          "path": [
            "slack",
            "pulley:M@anchor",
            "grab:G",
            "load"
          ]
        }
      ],
      "reset_loss_m": 0.1,
      "travel_m": {
        "G": 2.5
      }
    },
    "in": [
      {
        "path": "load_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "system",
        "doc": "1:1, 2:1, 3:1, 5:1 or 9:1; or write the reeving",
        "kind": "text"
      },
      {
        "path": "reeving.rope",
        "kind": "text",
        "needed": true
      },
      {
        "path": "reeving.path",
        "kind": "text",
        "needed": true
      },
      {
        "path": "pulleys.efficiency",
        "doc": "tension behind it / tension before it; 1 is ideal",
        "kind": "number",
        "min": 0,
        "max": 1,
        "needed": true
      },
      {
        "path": "efficiency",
        "doc": "of every pulley that is not stated by itself",
        "kind": "number",
        "min": 0,
        "max": 1
      },
      {
        "path": "haulers",
        "doc": "left out: as many as are needed",
        "kind": "whole",
        "min": 1,
        "max": 1000
      },
      {
        "path": "hauler_kN",
        "doc": "what one pulls steadily",
        "unit": "kN",
        "kind": "number",
        "min": 0
      },
      {
        "path": "hauler_peak_kN",
        "doc": "what one pulls at most",
        "unit": "kN",
        "kind": "number",
        "min": 0
      },
      {
        "path": "travel_m.each",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "travel_m.by",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "raise_m",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "reset_loss_m",
        "doc": "what the load sinks back at each reset",
        "unit": "m",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "ideal_ratio",
        "doc": "every pulley ideal",
        "kind": "number",
        "needed": true
      },
      {
        "path": "actual_ratio",
        "kind": "number",
        "needed": true
      },
      {
        "path": "hand_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "haulers_needed",
        "kind": "whole",
        "needed": true
      },
      {
        "path": "pulleys_kN",
        "doc": "sum of both tensions",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "grabs_kN",
        "doc": "all that pulls on the grab",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "anchor_kN",
        "doc": "all that pulls on the anchor",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "strokes",
        "kind": "whole",
        "needed": true
      },
      {
        "path": "rope_through_hands_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "jammed_kN",
        "doc": "on the load line if the load jams and the haulers pull their most; errs low",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "jammed_ceiling_kN",
        "doc": "the same with every pulley ideal",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "segments.rope",
        "kind": "text",
        "needed": true
      },
      {
        "path": "segments.index",
        "doc": "0: the part at the hand",
        "kind": "whole",
        "needed": true
      },
      {
        "path": "segments.tension_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "held.rope",
        "kind": "text",
        "needed": true
      },
      {
        "path": "held.index",
        "doc": "0: the part at the hand",
        "kind": "whole",
        "needed": true
      },
      {
        "path": "held.tension_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "lower",
    "does": "what a brake asks of the hand",
    "example": {
      "base_ratio": 14,
      "hanging_m": 20,
      "load_kg": 180,
      "rope_g_per_m": 71,
      "wraps_deg": [
        180
      ]
    },
    "in": [
      {
        "path": "load_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "base_ratio",
        "doc": "load to hand with the brake fully open, hand at its reference place",
        "kind": "number",
        "min": 1,
        "needed": true
      },
      {
        "path": "mu",
        "doc": "rope on metal",
        "kind": "number",
        "min": 0
      },
      {
        "path": "wraps_deg",
        "doc": "each added wrap: hand angle, extra post or connector",
        "unit": "°",
        "kind": "number",
        "min": 0,
        "max": 180
      },
      {
        "path": "hanging_m",
        "doc": "rope that hangs on the brake side",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "rope_g_per_m",
        "unit": "g/m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "grip_kN",
        "doc": "what a hand holds for long",
        "unit": "kN",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "ratio",
        "kind": "number",
        "needed": true
      },
      {
        "path": "brake_kN",
        "doc": "needed on the brake side",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "hand_kN",
        "doc": "what hanging rope leaves of it",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "runs_by_itself",
        "doc": "hanging rope does not hold it",
        "kind": "yes",
        "needed": true
      },
      {
        "path": "frees_below_m",
        "doc": "rope hanging below the device under which it runs; null for rope without weight",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "within_grip",
        "kind": "yes",
        "needed": true
      }
    ]
  },
  {
    "name": "heat",
    "does": "temperature of a device at the end of a descent",
    "example": {
      "ambient_C": 20,
      "cooling_W_K": 2.4,
      "device_g": 530,
      "heat_share": 0.5,
      "height_m": 90,
      "limit_C": 100,
      "load_kg": 100,
      "specific_heat_J_kgK": 900,
      "speed_m_s": 0.5
    },
    "in": [
      {
        "path": "load_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "height_m",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "speed_m_s",
        "unit": "m/s",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "device_g",
        "unit": "g",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "specific_heat_J_kgK",
        "unit": "J/kgK",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "cooling_W_K",
        "doc": "hA",
        "unit": "W/K",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "heat_share",
        "doc": "f, the part of the energy that goes into the device",
        "kind": "number",
        "min": 0,
        "max": 1,
        "needed": true
      },
      {
        "path": "ambient_C",
        "unit": "°C",
        "kind": "number",
        "min": -273.15,
        "needed": true
      },
      {
        "path": "limit_C",
        "doc": "highest temperature of the sheath",
        "unit": "°C",
        "kind": "number",
        "min": -273.15,
        "needed": true
      }
    ],
    "out": [
      {
        "path": "end_C",
        "unit": "°C",
        "kind": "number",
        "needed": true
      },
      {
        "path": "fastest_m_s",
        "doc": "fastest speed that stays within the limit; null when any does",
        "unit": "m/s",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "stretch",
    "does": "stretch of a hanging rope",
    "example": {
      "elongation_pct": 3.6,
      "length_m": 90,
      "load_kg": 100,
      "rope_g_per_m": 71
    },
    "in": [
      {
        "path": "load_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "length_m",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "elongation_pct",
        "doc": "between 50 and 150 kg",
        "unit": "%",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "rope_g_per_m",
        "unit": "g/m",
        "kind": "number",
        "min": 0,
        "needed": true
      }
    ],
    "out": [
      {
        "path": "EA_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "stretch_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "fall",
    "does": "a fall onto a backup device",
    "example": {
      "absorber": {
        "force_kN": 3,
        "max_m": 0.9
      },
      "clearance_m": 6,
      "device_above_attachment_m": 0.2,
      "elongation_pct": 3.6,
      "lanyard_m": 0.6,
      "mass_kg": 100,
      "rope_length_m": 12,
      "slack_m": 0.3
    },
    "in": [
      {
        "path": "mass_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "lanyard_m",
        "doc": "from the device to the attachment",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "device_above_attachment_m",
        "doc": "negative: the device is below",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "slack_m",
        "doc": "slack in the rope above the device",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "lock_distance_m",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "lock_speed_m_s",
        "doc": "of a wheel; a cam has 0",
        "unit": "m/s",
        "kind": "number",
        "min": 0
      },
      {
        "path": "rope_length_m",
        "doc": "from the anchor to the device",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "elongation_pct",
        "doc": "between 50 and 150 kg",
        "unit": "%",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "absorber.force_kN",
        "unit": "kN",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "absorber.max_m",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "damping_ratio",
        "doc": "of the rope, for likely_kN and the course",
        "kind": "number",
        "min": 0,
        "max": 0.5
      },
      {
        "path": "feet_m",
        "doc": "from the attachment to the feet",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "margin_m",
        "doc": "clearance kept below the feet",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "clearance_m",
        "doc": "what is free below the attachment",
        "unit": "m",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "free_fall_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "fall_before_arrest_m",
        "doc": "h, the fall until the device has locked",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "peak_kN",
        "doc": "undamped: the ceiling",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "absorber_m",
        "doc": "extension of the absorber",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "stretch_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "absorber_used_up",
        "kind": "yes",
        "needed": true
      },
      {
        "path": "fall_factor",
        "doc": "h / rope length",
        "kind": "number",
        "needed": true
      },
      {
        "path": "clearance_needed_m",
        "doc": "down from the attachment",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "clear",
        "doc": "null where no clearance is stated",
        "kind": "yes",
        "needed": true
      },
      {
        "path": "likely_kN",
        "doc": "with the damping ratio given",
        "unit": "kN",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "share",
    "does": "a strand that fails while two share the load",
    "example": {
      "elongation_pct": 3.6,
      "mass_kg": 180,
      "rope_length_m": 40,
      "share": 0.5,
      "slack_m": 0.3
    },
    "in": [
      {
        "path": "mass_kg",
        "unit": "kg",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "rope_length_m",
        "doc": "from the anchor of the strand that survives to the load",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "elongation_pct",
        "doc": "between 50 and 150 kg",
        "unit": "%",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "share",
        "doc": "part of the weight on the strand that survives; 0: free of slack, no load",
        "kind": "number",
        "min": 0,
        "max": 1,
        "needed": true
      },
      {
        "path": "slack_m",
        "doc": "slack in a strand that carries nothing",
        "unit": "m",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "shared.peak_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "shared.drop_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "slack.peak_kN",
        "unit": "kN",
        "kind": "number",
        "needed": true
      },
      {
        "path": "slack.drop_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "wind",
    "does": "slack that the wind draws on a backup strand",
    "example": {
      "above_m": 40,
      "device_drag_N": 6,
      "diameter_mm": 10.5,
      "rope_g_per_m": 71,
      "tail_m": 30,
      "wind_m_s": 6
    },
    "in": [
      {
        "path": "above_m",
        "doc": "strand from the anchor to the device",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "tail_m",
        "doc": "rope that hangs free below the device; rope on the ground weighs nothing",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "diameter_mm",
        "unit": "mm",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "rope_g_per_m",
        "unit": "g/m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "wind_m_s",
        "unit": "m/s",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "device_drag_N",
        "doc": "force it takes to draw rope up through the device",
        "unit": "N",
        "kind": "number",
        "min": 0
      },
      {
        "path": "parked",
        "doc": "the wheel is locked against the wind",
        "kind": "yes"
      },
      {
        "path": "slack_limit_m",
        "unit": "m",
        "kind": "number",
        "min": 0
      }
    ],
    "out": [
      {
        "path": "slack_m",
        "doc": "rope drawn up through the device: free fall waiting to happen",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "bow_m",
        "doc": "widest sideways",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "limit_wind_m_s",
        "doc": "lowest wind at which the slack passes the limit or the tail runs; null above 60 m/s or when parked",
        "unit": "m/s",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "swing",
    "does": "how hard a body swings when let go",
    "example": {
      "offset_m": 4,
      "rope_length_m": 30
    },
    "in": [
      {
        "path": "rope_length_m",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "offset_m",
        "doc": "out of plumb, to either side; at most the rope's length",
        "unit": "m",
        "kind": "number",
        "needed": true
      }
    ],
    "out": [
      {
        "path": "speed_m_s",
        "doc": "at the bottom",
        "unit": "m/s",
        "kind": "number",
        "needed": true
      },
      {
        "path": "equal_drop_m",
        "doc": "straight drop that gives the same speed",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "angle_deg",
        "doc": "of the rope out of plumb",
        "unit": "°",
        "kind": "number",
        "needed": true
      }
    ]
  },
  {
    "name": "rope",
    "does": "rope needed for a drop",
    "example": {
      "diameter_mm": 10.5,
      "drop_m": 96,
      "items": [
        {
          "kind": "end-loop",
          "count": 1
        },
        {
          "kind": "stopper",
          "count": 1
        },
        {
          "kind": "tail",
          "count": 2
        },
        {
          "kind": "edge",
          "count": 1,
          "m": 0.4
        }
      ],
      "reserve_m": 2,
      "stretch_m": 3.1
    },
    "in": [
      {
        "path": "drop_m",
        "doc": "along the strand, from the anchor to the lowest landing needed",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "diameter_mm",
        "unit": "mm",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "items.kind",
        "kind": "choice",
        "choices": [
          "end-loop",
          "mid-loop",
          "join",
          "stopper",
          "tail",
          "edge",
          "loop"
        ],
        "needed": true
      },
      {
        "path": "items.count",
        "kind": "whole",
        "min": 0,
        "max": 1000,
        "needed": true
      },
      {
        "path": "items.m",
        "doc": "of each edge or loop; a knot's length comes from the table",
        "unit": "m",
        "kind": "number",
        "min": 0
      },
      {
        "path": "reserve_m",
        "doc": "at the bottom",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      },
      {
        "path": "stretch_m",
        "doc": "shown in the working; it never shortens the rope",
        "unit": "m",
        "kind": "number",
        "min": 0,
        "needed": true
      }
    ],
    "out": [
      {
        "path": "length_needed_m",
        "unit": "m",
        "kind": "number",
        "needed": true
      },
      {
        "path": "parts.kind",
        "doc": "drop, a kind of item, or reserve",
        "kind": "text",
        "needed": true
      },
      {
        "path": "parts.m",
        "unit": "m",
        "kind": "number",
        "needed": true
      }
    ]
  }
]
