//! Which hinge: every one ranked for this piece, place, crew, film and weather, each with what speaks for and against it.
//!
//! Which hinge suits what is common practice, no source; how much each reason weighs is Windrift's own.

use serde::Serialize;

use crate::film::classes::{Adhesive, FilmFigures};
use crate::film::work::HingeKind;
use crate::ground::tape::{Unit, print};

/// What decides about the hinge. Lengths in mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Situation {
    /// Width of the carrier.
    pub width_mm: f64,
    /// Height of the carrier.
    pub height_mm: f64,
    /// Whether it is letters on transfer tape.
    pub letters: bool,
    /// The film.
    pub film: FilmFigures,
    /// People, one or two.
    pub crew: u8,
    /// Air and surface, °C, where it is known.
    pub celsius: Option<f64>,
    /// Whether it goes on wet.
    pub wet: bool,
    /// Whether magnets hold on the surface.
    pub magnets: bool,
    /// Why tape cannot go along the upper edge, if it cannot.
    pub top_refused: Option<String>,
    /// Why tape cannot go along either upright edge, if it cannot.
    pub side_refused: Option<String>,
    /// Why tape cannot go down the middle, if it cannot.
    pub middle_refused: Option<String>,
    /// Why no tape may go on the paint at all, if none may.
    pub paint_refused: Option<String>,
    /// Name of a crease or body line across the piece near its mid-height.
    pub line_at_middle: Option<String>,
    /// Largest clear flat under the piece, of its whole width, 0 to 1.
    pub widest_flat: f64,
}

/// A hinge as it suits the situation.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RankedHinge {
    /// The hinge.
    pub kind: HingeKind,
    /// What it is called.
    pub name: &'static str,
    /// Why it cannot be used here.
    pub refused: Option<String>,
    /// Whether no reason makes up for that: the surface itself says no.
    pub never: bool,
    /// What speaks for it, the weightiest first.
    pub reasons: Vec<String>,
    /// What speaks against it, the weightiest first.
    pub against: Vec<String>,
    /// Points for less points against.
    pub points: i32,
}

/// Pieces up to this size hang from two corner tabs, mm (ours).
pub const SMALL_MM: f64 = 450.0;

/// Beyond this height one fall of the sheet is too much for one person, mm: the deepest band between stay tapes (common practice, no
/// source: 36 in).
pub const TALL_MM: f64 = 914.4;

/// Beyond this length a sheet is very long, mm (ours).
pub const LONG_MM: f64 = 3000.0;

/// Ranks every hinge, the best first; refused ones last.
pub fn rank(s: &Situation, unit: Unit) -> Vec<RankedHinge> {
    let mut ranked: Vec<RankedHinge> = HingeKind::ALL
        .into_iter()
        .map(|kind| judge(kind, s, unit))
        .collect();
    ranked.sort_by_key(|r| (r.refused.is_some(), -r.points, r.kind));
    ranked
}

struct Scale {
    for_it: Vec<(i32, String)>,
    against: Vec<(i32, String)>,
    refused: Option<String>,
}

impl Scale {
    fn plus(&mut self, when: bool, points: i32, why: impl Into<String>) {
        if when {
            self.for_it.push((points, why.into()));
        }
    }
    fn minus(&mut self, when: bool, points: i32, why: impl Into<String>) {
        if when {
            self.against.push((points, why.into()));
        }
    }
    fn refuse(&mut self, when: bool, why: impl Into<String>) {
        if when && self.refused.is_none() {
            self.refused = Some(why.into());
        }
    }
}

fn judge(kind: HingeKind, s: &Situation, unit: Unit) -> RankedHinge {
    let solid = s.film.adhesive == Adhesive::Solid;
    let heat_set = s.film.adhesive == Adhesive::HeatSet;
    let alone = s.crew < 2;
    let ratio = s.width_mm / s.height_mm.max(1.0);
    let small = s.width_mm.max(s.height_mm) <= SMALL_MM;
    let tall = s.height_mm > TALL_MM;
    let long = s.width_mm > LONG_MM;
    let width = print(s.width_mm, unit).text;
    let height = print(s.height_mm, unit).text;
    let cold = s.celsius.is_some_and(|c| c < s.film.fit_from_celsius);
    let mut scale = Scale {
        for_it: Vec::new(),
        against: Vec::new(),
        refused: None,
    };
    if kind.tape() {
        if let Some(why) = &s.paint_refused {
            scale.refuse(true, why.clone());
        }
        scale.minus(
            cold,
            1,
            "In the cold tape lets go: rub it down harder, and warm it.",
        );
    }
    let refused_by = |scale: &mut Scale, why: &Option<String>| {
        if let Some(why) = why {
            scale.refuse(true, why.clone());
        }
    };
    match kind {
        HingeKind::Top => {
            refused_by(&mut scale, &s.top_refused);
            scale.plus(
                s.letters && ratio >= 2.0,
                4,
                "A line of letters hangs straight from its whole upper edge.",
            );
            scale.plus(
                !s.letters && ratio >= 2.0 && !tall,
                2,
                format!("{width} by {height}: it falls onto the surface from its long edge."),
            );
            scale.plus(
                !s.letters && ratio < 2.0 && !tall,
                1,
                "It falls onto the surface from above.",
            );
            scale.plus(
                solid,
                1,
                "The adhesive takes hold at once: tape keeps it off until the squeegee is there.",
            );
            scale.minus(
                tall && !s.letters,
                2,
                format!("{height} is a deep fall: stay tape is needed on the way down."),
            );
            scale.minus(
                heat_set,
                2,
                "The whole liner comes off this film at once: a hinge helps little.",
            );
            scale.minus(
                long && alone && !s.letters,
                2,
                format!("{width} of sheet is more than one person keeps off the surface."),
            );
            scale.minus(small, 1, "Two corner tabs do for a piece this small.");
        }
        HingeKind::Side => {
            refused_by(&mut scale, &s.side_refused);
            scale.plus(
                ratio < 0.6,
                3,
                format!("{height} high and {width} wide: it turns about its long edge."),
            );
            scale.plus(
                s.top_refused.is_some(),
                2,
                "The upper edge has no clean flat for tape; an upright edge has.",
            );
            scale.minus(
                ratio >= 2.0,
                3,
                format!("{width} swings from a short edge: the far end sags."),
            );
            scale.minus(
                heat_set,
                1,
                "The whole liner comes off this film at once: a hinge helps little.",
            );
        }
        HingeKind::Centre => {
            refused_by(&mut scale, &s.middle_refused);
            scale.plus(
                !s.letters && tall && alone && !long,
                if ratio < 1.5 { 4 } else { 2 },
                format!("A sheet {height} high, one person: each half is light enough to hold."),
            );
            scale.plus(
                !s.letters && long && !alone,
                3,
                format!("{width} of sheet and two people: from the middle, then each half."),
            );
            scale.plus(
                !s.letters && !tall && !long && !small,
                1,
                "Each half is short enough to keep off the surface.",
            );
            scale.plus(
                s.letters && s.width_mm > 1200.0,
                2,
                "Each half of the line is short enough to handle.",
            );
            scale.minus(
                s.letters,
                2,
                "Two halves of a line of letters are read and peeled twice.",
            );
            scale.minus(small, 2, "Not worth it for a piece this small.");
            scale.minus(heat_set, 1, "The whole liner comes off this film at once.");
            scale.minus(
                s.widest_flat < 0.25,
                2,
                "No clear flat in the middle to begin on.",
            );
        }
        HingeKind::LinerWindow => {
            scale.refuse(heat_set, "The whole liner of this film comes off at once: there is none left to cut a window in.");
            scale.refuse(
                s.wet,
                "A window's film must stick at once; wet film floats.",
            );
            scale.plus(
                !s.letters && s.width_mm > 1500.0 && s.height_mm > 700.0,
                3,
                format!("A panel of {width} by {height} hangs from its own middle, without tape."),
            );
            if let Some(line) = &s.line_at_middle {
                scale.plus(
                    !s.letters,
                    1,
                    format!("The {line} near its mid-height is where the liner is cut."),
                );
            }
            scale.plus(
                s.top_refused.is_some() || s.paint_refused.is_some(),
                2,
                "It needs no tape on the vehicle.",
            );
            scale.minus(
                s.letters,
                3,
                "Under transfer tape the window's edge cuts through letters' backs.",
            );
            scale.minus(
                solid,
                2,
                "Once its strip is down, this adhesive cannot be moved.",
            );
            scale.minus(small, 2, "Not worth it for a piece this small.");
        }
        HingeKind::CornerTabs => {
            refused_by(&mut scale, &s.top_refused);
            scale.refuse(!small, format!("Two tabs do not hold {width} by {height}. They place it; another hinge must carry it."));
            scale.plus(
                small && s.wet,
                4,
                "Small and wet: it is placed by hand, the tabs only keep it there.",
            );
            scale.plus(small && !s.wet, 3, "Small and light: two tabs hold it.");
        }
        HingeKind::Magnets => {
            scale.refuse(!s.magnets, "Magnets do not hold on this surface.");
            scale.plus(
                s.magnets && !small,
                2,
                "Magnets hold on this steel and move without peeling.",
            );
            scale.plus(cold, 1, "Magnets hold in the cold, when tape lets go.");
            scale.plus(s.paint_refused.is_some(), 2, "Nothing sticks to the paint.");
            scale.minus(
                s.letters,
                1,
                "They place the line; letters want their whole upper edge held.",
            );
            scale.minus(
                solid,
                1,
                "A magnet that slips drops the film onto adhesive that takes hold at once.",
            );
        }
        HingeKind::Pressed => {
            scale.refuse(
                s.wet,
                "A pressed hinge must stick at once; wet film floats.",
            );
            scale.refuse(
                s.letters,
                "Letters have no margin of film to press as a hinge.",
            );
            scale.plus(
                !solid && !small,
                2,
                "A firm stroke on the first inch holds this film, and it still lifts if it must.",
            );
            scale.plus(
                s.top_refused.is_some() || s.paint_refused.is_some(),
                2,
                "It needs no tape on the vehicle.",
            );
            scale.minus(
                solid,
                3,
                "After the first inch of this adhesive there is no way back.",
            );
            scale.minus(
                heat_set,
                1,
                "This adhesive holds little until it is warmed.",
            );
        }
        HingeKind::Float => {
            scale.refuse(alone, "Two people are needed to hold the sheet taut.");
            scale.refuse(
                solid,
                "This adhesive takes hold wherever it touches: the sheet cannot be floated.",
            );
            scale.refuse(
                s.letters,
                "Without its liner a line of letters on transfer tape cannot be held taut.",
            );
            scale.plus(
                heat_set,
                4,
                "Its whole liner comes off, and it slides until it is warmed.",
            );
            scale.plus(
                !heat_set && !solid && long,
                1,
                "Film with air channels slides until it is pressed.",
            );
            scale.minus(!heat_set, 2, "Harder to keep straight than a hinge.");
        }
    }
    let sum = |side: &[(i32, String)]| side.iter().map(|(p, _)| *p).sum::<i32>();
    let points = sum(&scale.for_it) - sum(&scale.against);
    let words = |mut side: Vec<(i32, String)>| {
        side.sort_by_key(|(p, _)| -p);
        side.into_iter().map(|(_, why)| why).collect::<Vec<_>>()
    };
    RankedHinge {
        kind,
        name: kind.name(),
        never: kind.tape() && s.paint_refused.is_some(),
        refused: scale.refused,
        reasons: words(scale.for_it),
        against: words(scale.against),
        points,
    }
}
