"""Which calculators there are: name, the module that answers it, title.  Importing this imports nothing
else.
"""

NAMES: dict[str, tuple[str, str]] = {
    "axle_loads": ("towing", "What tongue weight does to the axles"),
    "bend_layout": ("making", "A tube's bends: length to cut, marks, angles, twists"),
    "bolt_group": ("connections", "Bolts in single shear, elastic and by instantaneous centre"),
    "bolt_torque": ("connections", "Preload and tightening torque"),
    "cable": ("making", "A cable by its voltage drop, and its fuse"),
    "cope": ("making", "The end of a round branch on a round main"),
    "coupling_values": ("towing", "D, Dc and V values of a coupling"),
    "cut_stock": ("cutting", "Pieces out of bars: the least bought, the longest rest"),
    "deck": ("roadgoing", "Tongue, axle and tyre loads of a loaded deck"),
    "distortion": ("making", "How far a bead bows a bar"),
    "fatigue": ("roadgoing", "Damage of stress ranges on a welded detail"),
    "fit_up": ("making", "Where the corners of a tacked frame lie, by tape and level"),
    "frame": ("structure", "Displacements, reactions and member forces of a 3-D frame"),
    "hitch_height": ("towing", "Drop or rise that levels the trailer"),
    "pin": ("connections", "A pin in double shear: shear, bending, bearing"),
    "plate_bend": ("making", "Bend allowance and deduction of a plate"),
    "rectify": ("measuring", "Places and distances off a photo of a flat face"),
    "section": ("structure", "Area, second moments and moduli of a bar or tube"),
    "slot_bend": ("bending", "A tube bent by slots that are closed and welded"),
    "strap_anchor": ("roadgoing", "Pull in the legs of a strap anchor"),
    "sway": ("roadgoing", "Damping of trailer sway against speed"),
    "swing": ("roadgoing", "At what angle a trailer first touches"),
    "trailer_balance": ("towing", "Tongue weight from where the masses are"),
    "triangulate": ("measuring", "A place from tapes to three or more known ones"),
    "weigh": ("roadgoing", "Tongue weight from a scale"),
    "weld_settings": ("making", "Where to start a welding machine"),
    "weld_group": ("connections", "A group of fillet welds, elastic and by instantaneous centre"),
}
