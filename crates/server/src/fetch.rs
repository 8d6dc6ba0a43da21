//! A side's rows with as much of its job as its plan asks for.

use windrift_core::art::typeface::Typefaces;
use windrift_core::place::rules::PlaceRule;
use windrift_store::SideRows;

use crate::desk::Desk;
use crate::planned::SideInput;
use crate::problem::Problem;

impl SideInput {
    /// Reads a side's rows; its job's other sides are fetched where one of its pieces asks for them.
    pub async fn fetch(
        desk: &Desk,
        rows: &SideRows,
        faces: &Typefaces,
    ) -> Result<SideInput, Problem> {
        let input = SideInput::of(rows)?;
        let asks = input.pieces.iter().any(|(_, p)| {
            matches!(p.place, PlaceRule::Mirrored { .. })
                || p.lettering().is_some_and(|l| l.regulated.is_some())
        });
        let siblings = if asks {
            desk.job(rows.job.id).await?.sides
        } else {
            Vec::new()
        };
        let faces = faces.clone();
        desk.compute(move || input.among(&siblings, &faces)).await
    }
}
