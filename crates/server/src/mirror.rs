//! The side across the vehicle.

use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::side::Side;
use windrift_store::SideRows;
use windrift_store::stored::Kind;

use crate::problem::Problem;

/// The side among a job's that mirrors this one, as a row and as it was measured. One that cannot be read mirrors nothing.
pub fn mirror_of<'s>(sides: &'s [SideRows], of: &Side) -> Option<(&'s SideRows, Side)> {
    sides.iter().find_map(|rows| {
        let side: Side = Kind::Side.read(&rows.side.spec).ok()?;
        let mirrors = of.kind.mirror() == Some(side.kind) && side.facing != of.facing;
        mirrors.then_some((rows, side))
    })
}

/// What is told where there is none.
pub fn no_mirror() -> Problem {
    Problem::input(
        "no_mirror",
        "This job has no side that mirrors this one. Add it under Look over first.",
    )
}

/// A feature of one side as it is measured on the other: references of the two are told apart by key and matched by name.
pub fn as_measured_there(feature: &Feature, from: &Side, there: &Side) -> Result<Feature, Problem> {
    let mut own = feature.clone();
    if let Some(reference) = own.reference {
        let name = from.datum_name(Some(reference));
        let same = there.references.iter().find(|r| r.name == name);
        let told = || {
            let sentence =
                format!("The other side has no reference called {name}. Measure it there first.");
            Problem::input("no_mirror", sentence)
        };
        own.reference = Some(same.ok_or_else(told)?.id);
    }
    Ok(own)
}
