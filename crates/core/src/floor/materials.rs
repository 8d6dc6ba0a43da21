//! What the floor uses up for a piece beside its film, worked out from how it is hung.

use crate::film::supply::{Need, SupplyKind};
use crate::floor::edges::{SealWith, edges};
use crate::floor::forming::stretches_as_settled;
use crate::floor::hang::words::Hang;
use crate::floor::prep::promoter::promoter;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::Unit;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;

/// Tape and edges, summed over pieces.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Materials {
    /// Masking tape for hinges, tabs and stay tape, mm.
    pub masking_tape_mm: f64,
    /// Transfer tape, mm²: the sheets that letters are carried on.
    pub transfer_tape_mm2: f64,
    /// Outline of film that comes without transfer tape, mm: edges to be heated and looked over.
    pub edges_mm: f64,
    /// Edges that are sealed with sealer, as [`edges`] ends them, mm.
    pub sealed_mm: f64,
    /// Edges that are sealed with tape, mm.
    pub seal_tape_mm: f64,
    /// Cutting tape that lies before the film does, as [`edges`] ends them, mm.
    pub cutting_tape_mm: f64,
    /// Runs of promoter, as [`promoter`] draws them, mm.
    pub promoter_mm: f64,
    /// Area that film goes on, mm².
    pub area_mm2: f64,
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
    /// all.add(&planned, &measured, &hang(&planned, &measured, &settings, false, unit), &settings);
    /// // A print of 1000 by 600: 3.2 m of edge, no transfer tape.
    /// assert!((all.edges_mm - 3200.0).abs() < 1e-6 && all.transfer_tape_mm2 == 0.0);
    /// ```
    pub fn add(
        &mut self,
        planned: &PlannedPiece,
        side: &MeasuredSide,
        hang: &Hang,
        settings: &WorkSettings,
    ) {
        self.masking_tape_mm += hang.total.mm;
        self.area_mm2 += planned.drawn.bounds.area();
        if hang.film.transfer_tape {
            let sheet = planned.drawn.carrier(settings.carrier_margin_mm.mm());
            self.transfer_tape_mm2 += sheet.area();
        } else {
            let outlines = planned.drawn.film().flat_map(|s| s.edges());
            let long = outlines.map(|(a, b)| a.distance(b)).sum::<f64>();
            self.edges_mm += long;
            let ended = edges(
                planned,
                side,
                &planned.piece.film_figures(),
                settings.blades,
                Unit::Millimetre,
            );
            let stretch = stretches_as_settled(planned, side, settings, Unit::Millimetre);
            let runs = promoter(planned, side, &stretch, settings, Unit::Millimetre);
            self.promoter_mm += runs.iter().map(|r| r.length.mm).sum::<f64>();
            for edge in &ended.sealed {
                match edge.with {
                    SealWith::Tape => self.seal_tape_mm += edge.length.mm,
                    SealWith::Sealer => self.sealed_mm += edge.length.mm,
                    SealWith::Coat => {}
                }
            }
            self.cutting_tape_mm += ended.cutting_tape.mm;
        }
    }

    /// What of every supply is needed, with what it follows from. Rates are the shop's; where nobody changed them, Windrift's own.
    pub fn needs(&self, settings: &WorkSettings) -> Vec<Need> {
        let metres = self.edges_mm / 1000.0;
        let all = [
            Need {
                kind: SupplyKind::MaskingTape,
                name: None,
                width_mm: Some(settings.tape_width_mm.mm()),
                amount: self.masking_tape_mm,
                why: "hinges, tabs and stay tape of every piece".into(),
            },
            Need {
                kind: SupplyKind::TransferTape,
                name: None,
                width_mm: None,
                amount: self.transfer_tape_mm2,
                why: "lettering with its margin".into(),
            },
            Need {
                kind: SupplyKind::CuttingTape,
                name: None,
                width_mm: None,
                amount: self.cutting_tape_mm,
                why:
                    "edges that are cut on the panel, laid before the film: no blade goes to paint"
                        .into(),
            },
            Need {
                kind: SupplyKind::Promoter,
                name: None,
                width_mm: None,
                amount: self.promoter_mm / 1000.0 * settings.promoter_ml_per_m,
                why: format!(
                    "where weather, water or a recess works on an edge, {} ml to the metre",
                    settings.promoter_ml_per_m
                ),
            },
            Need {
                kind: SupplyKind::EdgeSealer,
                name: None,
                width_mm: None,
                amount: self.sealed_mm / 1000.0 * settings.sealer_ml_per_m,
                why: format!(
                    "all round film on boats and in wheel wells, {} ml to the metre",
                    settings.sealer_ml_per_m
                ),
            },
            Need {
                kind: SupplyKind::EdgeSealTape,
                name: None,
                width_mm: None,
                amount: self.seal_tape_mm,
                why: "half on and half off film along the lower edge of the body".into(),
            },
            Need {
                kind: SupplyKind::Blades,
                name: None,
                width_mm: None,
                amount: (metres / settings.metres_per_blade).ceil(),
                why: format!(
                    "a fresh edge for every {} m that is cut",
                    settings.metres_per_blade
                ),
            },
            Need {
                kind: SupplyKind::Wipes,
                name: None,
                width_mm: None,
                amount: (self.area_mm2 / 1e6 * settings.wipes_per_m2).ceil(),
                why: format!(
                    "{} to the square metre that film goes on",
                    settings.wipes_per_m2
                ),
            },
        ];
        all.into_iter().filter(|n| n.amount > 0.0).collect()
    }
}
