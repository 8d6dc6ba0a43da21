//! Where adhesion promoter goes, how much of it, and how long it waits.
//!
//! Common practice, no source: on edges that meet weather or water, ridges, channels, concave and convex places; generous, not dripping; film goes on when
//! it is tacky, after about 10 minutes, and never while it is wet. Which edges meet the weather most (front and foot) is how we read that.

use kurbo::{Point, Rect};
use serde::Serialize;

use crate::film::classes::{FilmClass, FilmFigures};
use crate::floor::edges::edges;
use crate::floor::forming::{Forming, Stretches};
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;

/// A run of promoter.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PromoterRun {
    /// What it is called: `front edge`, `recess 1`.
    pub name: String,
    /// Why it goes there.
    pub why: String,
    /// How long it is.
    pub length: Length,
    /// How much it takes, ml.
    pub ml: f64,
    /// From point to point in the picture frame, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// An edge within this share of the piece's front or foot is its front edge or its foot (ours).
const NEAR_SHARE: f64 = 0.05;

/// Runs of promoter under a piece: none under film on transfer tape and strips, all round a hull print, else where weather and stress work.
/// `front` and `foot` are what the side's ends are called.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::{forming::stretches_as_settled, prep::promoter::promoter};
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
/// let stretch = stretches_as_settled(&planned, &measured, &settings, unit);
/// let runs = promoter(&planned, &measured, &stretch, &settings, unit);
/// // The front edge, 600 mm, and the foot, 1000 mm.
/// let mm: f64 = runs.iter().map(|r| r.length.mm).sum();
/// assert!(runs.len() == 2 && (mm - 1600.0).abs() < 40.0);
/// ```
pub fn promoter(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    stretch: &Stretches,
    settings: &WorkSettings,
    unit: Unit,
) -> Vec<PromoterRun> {
    let film = planned.piece.film_figures();
    if film.transfer_tape || film.class == FilmClass::ConspicuityStrip {
        return Vec::new();
    }
    let run = |name: String, why: &str, mm: f64, lines: Vec<Vec<[f64; 2]>>| PromoterRun {
        name,
        why: why.into(),
        length: print(mm, unit),
        ml: mm / 1000.0 * settings.promoter_ml_per_m,
        lines,
    };
    let mut runs = at_edges(planned, side, &film, settings)
        .into_iter()
        .map(|(name, why, mm, lines)| run(name, why, mm, lines))
        .collect::<Vec<_>>();
    for place in &stretch.places {
        let works = matches!(
            place.forming,
            Forming::Feed | Forming::Warm | Forming::WarmAndHeat | Forming::ReliefCut
        );
        // A head is too small to be brushed round; an inlay and a lap have edges of their own.
        if !works || place.outlines.is_empty() {
            continue;
        }
        let mut lines = place.outlines.clone();
        for line in &mut lines {
            line.extend(line.first().copied());
        }
        let mm: f64 = lines.iter().map(|l| long(l)).sum();
        runs.push(run(
            place.name.clone(),
            "Film pulls there: its rim holds it.",
            mm,
            lines,
        ));
    }
    runs
}

fn long(line: &[[f64; 2]]) -> f64 {
    line.windows(2)
        .map(|w| Point::from((w[0][0], w[0][1])).distance(Point::from((w[1][0], w[1][1]))))
        .sum()
}

type Named = (String, &'static str, f64, Vec<Vec<[f64; 2]>>);

fn at_edges(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    film: &FilmFigures,
    settings: &WorkSettings,
) -> Vec<Named> {
    let ended = edges(planned, side, film, settings.blades, Unit::Millimetre);
    let lines: Vec<Vec<[f64; 2]>> = ended.runs.into_iter().flat_map(|r| r.lines).collect();
    if lines.is_empty() {
        return Vec::new();
    }
    if film.class == FilmClass::HullPrint {
        let mm = lines.iter().map(|l| long(l)).sum();
        return vec![(
            "whole edge".into(),
            "A hull: water works on every edge.",
            mm,
            lines,
        )];
    }
    let points = lines.iter().flatten();
    let bounds = points.fold(
        Rect::new(
            f64::INFINITY,
            f64::INFINITY,
            f64::NEG_INFINITY,
            f64::NEG_INFINITY,
        ),
        |r, p| {
            Rect::new(
                r.x0.min(p[0]),
                r.y0.min(p[1]),
                r.x1.max(p[0]),
                r.y1.max(p[1]),
            )
        },
    );
    let front = if side.side.runs_front_to_rear() {
        bounds.x0
    } else {
        bounds.x1
    };
    let at_front = |a: [f64; 2], b: [f64; 2]| {
        let middle = (a[0] + b[0]) / 2.0;
        (b[1] - a[1]).abs() > (b[0] - a[0]).abs()
            && (middle - front).abs() <= bounds.width() * NEAR_SHARE
    };
    let at_foot = |a: [f64; 2], b: [f64; 2]| {
        let middle = (a[1] + b[1]) / 2.0;
        (b[0] - a[0]).abs() >= (b[1] - a[1]).abs()
            && (bounds.y1 - middle).abs() <= bounds.height() * NEAR_SHARE
    };
    let picked = |wanted: &dyn Fn([f64; 2], [f64; 2]) -> bool| {
        let mut found: Vec<Vec<[f64; 2]>> = Vec::new();
        for line in &lines {
            let mut open = false;
            for w in line.windows(2) {
                if !wanted(w[0], w[1]) {
                    open = false;
                } else if let Some(last) = found.last_mut().filter(|_| open) {
                    last.push(w[1]);
                } else {
                    found.push(vec![w[0], w[1]]);
                    open = true;
                }
            }
        }
        let mm: f64 = found.iter().map(|l| long(l)).sum();
        (mm, found)
    };
    let (front_mm, front_lines) = picked(&at_front);
    let (foot_mm, foot_lines) = picked(&at_foot);
    [
        (
            "front edge".to_owned(),
            "It meets the wind.",
            front_mm,
            front_lines,
        ),
        (
            "foot".to_owned(),
            "Water stands on it.",
            foot_mm,
            foot_lines,
        ),
    ]
    .into_iter()
    .filter(|r| r.2 > 0.0)
    .collect()
}
