//! A print in panels: how many, which way they stand, where the joins are and what each costs, in which order they go on.

use kurbo::Rect;
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::art::Art;
use crate::cut::join_cost::Joins;
use crate::cut::parted::{Parted, parts_of};
use crate::cut::split::{Cost, SplitAsk, SplitError, split};
use crate::film::work::Stand;
use crate::ground::mm::Mm;
use crate::ground::tape::{Length, Unit, print};
use crate::ground::told::first_capital;
use crate::plan::planned::PlannedPiece;
use crate::plan::relief::{ReliefAsk, ReliefCut, keys_of, relief_cuts};
use crate::vehicle::measured::MeasuredSide;

/// What a print is split by. Lengths in mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelAsk {
    /// How wide a panel can be printed: the roll less what the printer leaves at both edges.
    pub printable_mm: Mm,
    /// How long a panel can be.
    pub longest_mm: Mm,
    /// How far panels lap.
    pub lap_mm: Mm,
    /// Joins are tried at every multiple of this.
    pub step_mm: Mm,
    /// How far film reaches past a gap at which a print is parted, to be turned in.
    pub turn_in_mm: Mm,
}

/// A print that cannot be split. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PanelsError {
    /// Not a print.
    #[error(
        "Only a print is made in panels. Lettering, stripes and kit pieces are cut as they are."
    )]
    NoPrint,
    /// Neither way.
    #[error("Upright: {upright} Lying: {lying}")]
    Neither {
        /// Why not upright.
        upright: String,
        /// Why not lying.
        lying: String,
    },
}

/// One panel.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CutPanel {
    /// Its number: the order in which panels go on.
    pub number: u32,
    /// Which way it stands.
    pub stand: Stand,
    /// In the print's film frame: left, top, right, foot, mm.
    pub film: [f64; 4],
    /// What of that is seen in the end, where the print's own trim does not cut it off: without what lies under the next panel or is turned in.
    pub shows: [f64; 4],
    /// Width with bleed and lap.
    pub width: Length,
    /// Height with bleed and lap.
    pub height: Length,
    /// Corners in the picture frame.
    pub corners: [[f64; 2]; 4],
    /// Relief cuts round what stays on within it.
    pub relief: Vec<ReliefCut>,
}

/// A join between two panels.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelJoin {
    /// The panel that lies under.
    pub under: u32,
    /// How far its exposed edge is from where `from` says.
    pub at: Length,
    /// Where that is measured from, in words: the print’s rear edge, its foot, or that of its part.
    pub from: String,
    /// How far the panels lap.
    pub lap: Length,
    /// What it meets, worst first; nothing where it meets nothing.
    pub meets: Vec<String>,
    /// The lap in the print's film frame: left, top, right, foot, mm.
    pub film: [f64; 4],
    /// Corners of the lap in the picture frame.
    pub corners: [[f64; 2]; 4],
}

/// What of a print lies between the gaps at which it is parted: all of its panels stand one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelPart {
    /// Where it lies: `behind door gap 2`; nothing where the print is not parted.
    pub lies: Option<String>,
    /// Which way its panels stand.
    pub stand: Stand,
    /// To the middle of each gap that it ends at, in the print's film frame: left, top, right, foot, mm.
    pub trimmed: [f64; 4],
    /// Numbers of its first and its last panel.
    pub numbers: (u32, u32),
}

/// Panels as they go on.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelPlan {
    /// Which way they stand; the first part's, where it is parted.
    pub stand: Stand,
    /// The parts between gaps at which it is parted: the lower before the upper, the rear before the front. One where it is not parted.
    pub parts: Vec<PanelPart>,
    /// In the order in which they go on: rear before front, foot before top.
    pub panels: Vec<CutPanel>,
    /// Joins between them.
    pub joins: Vec<PanelJoin>,
    /// The fewest panels that the roll's width alone would need.
    pub fewest: u32,
    /// In sentences: how many, why, in which order.
    pub says: Vec<String>,
}

/// A print in panels.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Panels {
    /// The better way, or the one that the crew has settled.
    pub best: PanelPlan,
    /// The other way that they can stand.
    pub other: Option<PanelPlan>,
    /// Why the other way is not possible.
    pub other_refused: Option<String>,
}

/// Splits a print over the roll's printable width: the way that the crew has settled, else fewest panels, then the joins where they cost least.
///
/// Every place of the step is weighed, so that no other joins of as many panels cost less. Panels go on from the rear forwards, or from the
/// foot upwards, each lapping over the one before: the exposed edge of a lap points backwards and down (common practice, no source).
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::cut::panels::{PanelAsk, panels};
/// # use windrift_core::film::work::Stand;
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 4000.0.into(), height_mm: 1500.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(200.0, LetterEnd::FirstLetter, 200.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// // 4 m by 1.5 m on a roll that prints 1.34 m.
/// let ask = PanelAsk { printable_mm: 1340.0.into(), longest_mm: 30_000.0.into(), lap_mm: 25.0.into(), step_mm: 5.0.into(), turn_in_mm: 12.7.into() };
/// let found = panels(&planned, &measured, &ask, Unit::Millimetre).unwrap();
/// // Two lying panels do what four upright ones would.
/// assert_eq!((found.best.stand, found.best.panels.len()), (Stand::Lying, 2));
/// assert_eq!(found.other.unwrap().panels.len(), 4);
/// ```
///
/// Where the crew parts a print at gaps, each part is split by itself, the way that costs least: what is turned in at a gap is beyond its width.
///
/// Errors: not a print; neither way possible, with why.
pub fn panels(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    ask: &PanelAsk,
    unit: Unit,
) -> Result<Panels, PanelsError> {
    let Art::Panel(_) = &planned.piece.art else {
        return Err(PanelsError::NoPrint);
    };
    let parts = parts_of(planned, side, ask.turn_in_mm.mm());
    match parts.as_slice() {
        [whole] => one_part(planned, side, ask, whole, unit, planned.piece.work.stand),
        parts => {
            let mut all: Option<PanelPlan> = None;
            for part in parts {
                let best = one_part(planned, side, ask, part, unit, None)?.best;
                match &mut all {
                    None => all = Some(best),
                    Some(all) => append(all, best),
                }
            }
            let mut best = all.ok_or(PanelsError::NoPrint)?;
            best.says.insert(0, parted_told(parts, ask, unit));
            best.says.push(TRUE_FIRST.into());
            best.says.extend(clear_told(&best.joins));
            Ok(Panels {
                best,
                other: None,
                other_refused: None,
            })
        }
    }
}

/// What is told once for all parts.
const TRUE_FIRST: &str = "True panel 1 at its top and down its edge before anything is stuck: it decides where the others fall.";

fn parted_told(parts: &[Parted], ask: &PanelAsk, unit: Unit) -> String {
    let mut gaps: Vec<&str> = parts.iter().flat_map(|p| p.gaps()).collect();
    gaps.sort_unstable();
    gaps.dedup();
    format!(
        "Parted at {}: film reaches {} past the gap on both sides, to be turned in.",
        gaps.join(", "),
        print(ask.turn_in_mm.mm(), unit).text
    )
}

/// The panels of one more part, numbered on.
fn append(all: &mut PanelPlan, mut part: PanelPlan) {
    let before = all.panels.len() as u32;
    for p in &mut part.panels {
        p.number += before;
    }
    for j in &mut part.joins {
        j.under += before;
    }
    for p in &mut part.parts {
        p.numbers = (p.numbers.0 + before, p.numbers.1 + before);
    }
    all.parts.append(&mut part.parts);
    all.panels.append(&mut part.panels);
    all.joins.append(&mut part.joins);
    all.fewest += part.fewest;
    all.says.append(&mut part.says);
}

/// A part of a print both ways: the way that is settled, else that which costs less.
fn one_part(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    ask: &PanelAsk,
    part: &Parted,
    unit: Unit,
    settled: Option<Stand>,
) -> Result<Panels, PanelsError> {
    let of = |stand| standing(planned, side, ask, part, stand, unit);
    let way = |(plan, _): (PanelPlan, Cost)| plan;
    match (of(Stand::Upright), of(Stand::Lying)) {
        (Ok(upright), Ok(lying)) => {
            let fewer = (lying.0.panels.len(), lying.1) < (upright.0.panels.len(), upright.1);
            let lying_is_better = settled.map_or(fewer, |stand| stand == Stand::Lying);
            let (best, other) = if lying_is_better {
                (lying, upright)
            } else {
                (upright, lying)
            };
            Ok(Panels {
                best: way(best),
                other: Some(way(other)),
                other_refused: None,
            })
        }
        (Ok(best), Err(why)) | (Err(why), Ok(best)) => Ok(Panels {
            best: way(best),
            other: None,
            other_refused: Some(why),
        }),
        (Err(upright), Err(lying)) => Err(PanelsError::Neither { upright, lying }),
    }
}

fn standing(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    ask: &PanelAsk,
    part: &Parted,
    stand: Stand,
    unit: Unit,
) -> Result<(PanelPlan, Cost), String> {
    let Art::Panel(print_art) = &planned.piece.art else {
        return Err(PanelsError::NoPrint.to_string());
    };
    let text = |mm: f64| print(mm, unit).text;
    let film = part.film;
    let front_left = side.side.direction() > 0.0;
    let (length_mm, across_mm) = match stand {
        Stand::Upright => (film.width(), film.height()),
        Stand::Lying => (film.height(), film.width()),
    };
    if across_mm > ask.longest_mm.mm() {
        return Err(format!(
            "A panel would be {} long, and no roll gives more than {}.",
            text(across_mm),
            text(ask.longest_mm.mm())
        ));
    }
    let lap_mm = ask.lap_mm.mm();
    let joins = Joins::of(print_art, film, &planned.placed, side, stand, lap_mm);
    let by = SplitAsk {
        length_mm,
        printable_mm: ask.printable_mm.mm(),
        lap_mm,
        step_mm: ask.step_mm.mm(),
    };
    // What is larger than a panel cannot stay in one piece: then joins run through as little of it as can be, and it is told.
    let (found, through_keys) = match split(&by, |at| joins.cost(at, false)) {
        Err(SplitError::NoJoin) => (split(&by, |at| joins.cost(at, true)), true),
        other => (other, false),
    };
    let found = found.map_err(|e| e.to_string())?;
    let places: Vec<f64> = found.joins.iter().map(|k| *k as f64 * by.step_mm).collect();
    let rect = |from: f64, to: f64| match (stand, front_left) {
        (Stand::Upright, true) => Rect::new(film.x1 - to, film.y0, film.x1 - from, film.y1),
        (Stand::Upright, false) => Rect::new(film.x0 + from, film.y0, film.x0 + to, film.y1),
        (Stand::Lying, _) => Rect::new(film.x0, film.y1 - to, film.x1, film.y1 - from),
    };
    let corners = |r: Rect| {
        [(r.x0, r.y0), (r.x1, r.y0), (r.x1, r.y1), (r.x0, r.y1)].map(|p| {
            let q = planned.placed.to_picture * kurbo::Point::from(p);
            [q.x, q.y]
        })
    };
    let starts = std::iter::once(0.0).chain(places.iter().copied());
    let ends = (places.iter().map(|p| p + lap_mm)).chain(std::iter::once(length_mm));
    let keys = keys_of(print_art, side);
    let layered = planned.piece.film_figures().layered_reflective;
    let panels: Vec<CutPanel> = (1..)
        .zip(starts.zip(ends))
        .map(|(number, (from, to))| {
            let r = rect(from, to);
            // The next panel lies over what it laps.
            let covered = places.get(number as usize - 1).map_or(0.0, |_| lap_mm);
            let open = rect(from, to - covered);
            let shows = open.intersect(part.trimmed);
            let seen = shows.intersect(print_art.trim(front_left));
            let cut = ReliefAsk {
                film: r,
                covered_mm: [
                    seen.x0 - r.x0,
                    seen.y0 - r.y0,
                    r.x1 - seen.x1,
                    r.y1 - seen.y1,
                ],
                keys: &keys,
                layered,
            };
            CutPanel {
                number,
                stand,
                film: [r.x0, r.y0, r.x1, r.y1],
                shows: [shows.x0, shows.y0, shows.x1, shows.y1],
                width: print(r.width(), unit),
                height: print(r.height(), unit),
                corners: corners(r),
                relief: relief_cuts(&cut, &planned.placed, side, unit),
            }
        })
        .collect();
    let told: Vec<PanelJoin> = (1..)
        .zip(&places)
        .map(|(under, at)| PanelJoin {
            under,
            at: print(*at, unit),
            from: part.from(stand),
            lap: print(lap_mm, unit),
            meets: joins.words(*at, text),
            film: {
                let r = rect(*at, at + lap_mm);
                [r.x0, r.y0, r.x1, r.y1]
            },
            corners: corners(rect(*at, at + lap_mm)),
        })
        .collect();
    let mut says = says(part, (stand, found.fewest), &panels, &told, ask, unit);
    if through_keys {
        says.insert(
            1,
            "No place is free of what must stay clear in the picture: the joins run through as little of it as can be. Choose a wider roll, or move what matters."
                .into(),
        );
    }
    Ok((
        PanelPlan {
            stand,
            parts: vec![PanelPart {
                lies: part.lies(),
                stand,
                trimmed: {
                    let r = part.trimmed;
                    [r.x0, r.y0, r.x1, r.y1]
                },
                numbers: (1, panels.len() as u32),
            }],
            panels,
            joins: told,
            fewest: found.fewest as u32,
            says,
        },
        found.cost,
    ))
}

fn says(
    part: &Parted,
    (stand, fewest): (Stand, usize),
    panels: &[CutPanel],
    joins: &[PanelJoin],
    ask: &PanelAsk,
    unit: Unit,
) -> Vec<String> {
    let text = |mm: f64| print(mm, unit).text;
    let (wide, lap_mm) = (text(ask.printable_mm.mm()), ask.lap_mm.mm());
    let n = panels.len();
    let lies = part.lies().map(|l| format!("{}: ", first_capital(&l)));
    let parted = lies.is_some();
    let lies = lies.unwrap_or_default();
    if n == 1 {
        let across = match stand {
            Stand::Upright => "upright on the roll",
            Stand::Lying => "along the roll",
        };
        return vec![format!(
            "{lies}It goes {across} in one: {wide} can be printed. No join."
        )];
    }
    let way = match stand {
        Stand::Upright => "upright",
        Stand::Lying => "lying",
    };
    let mut says = vec![if n > fewest {
        format!(
            "{lies}{n} {way} panels: {fewest} would do by width, but leave no join that is allowed."
        )
    } else {
        format!("{lies}{n} {way} panels: no fewer go, for {wide} can be printed.")
    }];
    let (first, way) = match stand {
        Stand::Upright => ("rearmost", "points backwards"),
        Stand::Lying => ("lowest", "points down"),
    };
    let begins = if parted {
        format!("They begin with the {first}.")
    } else {
        format!("Panel 1 is the {first}.")
    };
    says.push(if lap_mm > 0.0 {
        format!(
            "{begins} Each next one laps {} over it, so that the exposed edge {way}.",
            text(lap_mm)
        )
    } else {
        format!("{begins} The next ones butt against it: this film does not lap.")
    });
    if !parted {
        says.push(TRUE_FIRST.into());
        says.extend(clear_told(joins));
    }
    says
}

/// Whether joins meet anything; nothing where there is none.
fn clear_told(joins: &[PanelJoin]) -> Option<String> {
    let met = joins.iter().filter(|j| !j.meets.is_empty()).count();
    (!joins.is_empty()).then(|| match met {
        0 => "No join runs along a gap or a crease, or meets a rivet, a recess, hardware or what must stay clear.".into(),
        1 => "One join meets something: no other joins of as many panels cost less.".into(),
        m => format!("{m} joins meet something: no others of as many panels cost less."),
    })
}
