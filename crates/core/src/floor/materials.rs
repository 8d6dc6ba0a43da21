//! What the floor uses up for a piece beside its film, worked out from how it is hung.

use crate::floor::hang::words::Hang;
use crate::ground::settings::WorkSettings;
use crate::plan::planned::PlannedPiece;

/// Tape and edges, summed over pieces.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Materials {
    /// Masking tape for hinges, tabs and stay tape, mm.
    pub masking_tape_mm: f64,
    /// Transfer tape, mm²: the sheets that letters are carried on.
    pub transfer_tape_mm2: f64,
    /// Outline of film that comes without transfer tape, mm: edges to be heated and looked over.
    pub edges_mm: f64,
}

impl Materials {
    /// Adds what a piece takes, hung like this.
    ///
    /// ```
    /// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
    /// # use windrift_core::floor::{hang::hang, materials::Materials};
    /// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
    /// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
    /// # use windrift_core::plan::{piece::Piece, plan_piece};
    /// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
    /// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    /// # let measured = measure(&side, &[]).unwrap();
    /// # let (settings, unit) = (WorkSettings::default(), Unit::Millimetre);
    /// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 0.0.into(), bleeds: None,
    /// #     colour: "#23405c".into(), picture: None, keys: vec![] };
    /// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
    /// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
    /// let mut all = Materials::default();
    /// all.add(&planned, &hang(&planned, &measured, &settings, false, unit), &settings);
    /// // A print of 1000 by 600: 3.2 m of edge, no transfer tape.
    /// assert!((all.edges_mm - 3200.0).abs() < 1e-6 && all.transfer_tape_mm2 == 0.0);
    /// ```
    pub fn add(&mut self, planned: &PlannedPiece, hang: &Hang, settings: &WorkSettings) {
        self.masking_tape_mm += hang.total.mm;
        if hang.film.transfer_tape {
            let sheet = planned.drawn.carrier(settings.carrier_margin_mm.mm());
            self.transfer_tape_mm2 += sheet.area();
        } else {
            let edges = planned.drawn.film().flat_map(|s| s.edges());
            self.edges_mm += edges.map(|(a, b)| a.distance(b)).sum::<f64>();
        }
    }
}
