"""Prints all that has an order in every family's verdict; test_every_family runs it with other hash seeds."""

from urial import families
from urial.shop.parts import parts_list
from urial.strength.verdict import prove

for name in families.families():
    v = prove(families.new_job(name))
    print(
        name,
        [s.link for s in v.chain],
        [c.id for c in v.checks],
        v.warnings,
        v.unchecked,
        parts_list(v.assembly),
    )
