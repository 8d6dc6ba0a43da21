//! The top hinge: where the tape goes, and where the carrier can be parted between letters.
//!
//! Tape along the whole top edge of the carrier, half on the vehicle and half on the piece, with a tab at each upper corner to
//! offer it up (common practice, no source).

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};

use crate::art::drawn::{Drawn, Part};
use crate::ground::outline::Shape;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};
use crate::place::placed::Placed;
use crate::vehicle::measured::MeasuredSide;

/// A cut leans by no more than this: beyond it the transfer tape tears (ours).
const MOST_LEAN_DEGREES: i32 = 25;

/// A parting cut through the carrier between two letters, or the reason there is none.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartingCut {
    /// Letter on the left of the cut, of each line.
    pub left: String,
    /// Letter on the right of it, of each line.
    pub right: String,
    /// The cut from the carrier's top edge to its foot, in the picture frame, mm; `None` where no straight cut passes.
    pub line: Option<[[f64; 2]; 2]>,
    /// Clear carrier on each side of the cut, mm; less than 0 where letters overlap.
    pub clear_mm: f64,
    /// Lean of the cut, whole degrees, top to the right positive; 0 is upright.
    pub lean_degrees: i32,
    /// How far back the cut is on the carrier's top edge.
    pub back: Option<Length>,
    /// One sentence for the installer. Nothing where letters of different lines only stand beside each other: no cut is looked for there.
    pub sentence: String,
}

/// A place where tape holds the piece.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Hold {
    /// How far back, mm.
    pub back_mm: f64,
    /// How far down, mm.
    pub down_mm: f64,
    /// In the picture frame, mm.
    pub at: [f64; 2],
}

/// A top hinge, worked out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TopHinge {
    /// Corners of the carrier in the picture frame, mm.
    pub carrier: [[f64; 2]; 4],
    /// Corners of the tape run, half on and half off the carrier.
    pub tape: [[f64; 2]; 4],
    /// Corners of the two corner tabs, the one nearer the front first.
    pub tabs: [[[f64; 2]; 4]; 2],
    /// Where the tabs hold, the one nearer the front first.
    pub holds: [Hold; 2],
    /// Length of the tape run.
    pub run: Length,
    /// Width of the tape; half of it goes on the carrier.
    pub tape_width: Length,
    /// How far down from the datum the upper edge of the tape is, at its middle.
    pub tape_top: Length,
    /// Number of tape pieces in the run.
    pub pieces: u32,
    /// Length of each piece, rounded up to a mark.
    pub piece: Length,
    /// Length of each corner tab.
    pub tab: Length,
    /// All tape: run and tabs.
    pub total: Length,
    /// A cut, or the reason for none, between each two neighbouring parts from left to right.
    pub cuts: Vec<PartingCut>,
    /// What speaks against the hinge here, one sentence each.
    pub troubles: Vec<String>,
}

/// Works out the top hinge of a placed piece.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_piece, plan_side, around::JobAround, piece::Piece, planned::PlannedPiece};
/// # use windrift_core::vehicle::{body::Body, measured::{MeasuredSide, measure::measure}, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let settings = WorkSettings::default();
/// # // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # // Letters 10 in high, 18 in from the front, their cap line 2 ft below the rail.
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let measured = measure(&side, &[]).unwrap();
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// # use windrift_core::plan::top_hinge::top_hinge;
/// let hinge = top_hinge(&planned.drawn, &planned.placed, &measured, &settings, unit);
/// // Two corner tabs hold it; it is parted between letters where clear carrier is left.
/// assert_eq!(hinge.holds.len(), 2);
/// assert!(hinge.holds[0].back_mm < hinge.holds[1].back_mm);
/// ```
pub fn top_hinge(
    lettering: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> TopHinge {
    let carrier = lettering.carrier(settings.carrier_margin_mm.mm());
    let half = settings.tape_width_mm / 2.0;
    let tape = Rect::new(carrier.x0, carrier.y0 - half, carrier.x1, carrier.y0 + half);
    let tab_at = |x: f64| {
        Rect::from_center_size(
            (x, carrier.y0),
            (settings.tape_width_mm.mm(), settings.tab_length_mm.mm()),
        )
    };
    let mut tabs = [tab_at(carrier.x0 + half), tab_at(carrier.x1 - half)];
    if side.side.direction() < 0.0 {
        tabs.reverse();
    }
    let datum = &placed.datum;
    let picture = |p: Point| {
        let at = placed.to_picture * p;
        [at.x, at.y]
    };
    let hold = |tab: Rect| {
        let at = placed.to_picture * tab.center();
        let (back_mm, down_mm) = datum.read(at);
        Hold {
            back_mm,
            down_mm,
            at: [at.x, at.y],
        }
    };
    let mark = unit.mark_mm();
    let up_to_mark = |mm: f64| print((mm / mark - 1e-6).ceil() * mark, unit);
    let pieces = (carrier.width() / settings.tape_piece_mm).ceil().max(1.0);
    let piece = up_to_mark(carrier.width() / pieces);
    let tab = up_to_mark(settings.tab_length_mm.mm());
    let tape_middle = placed.to_picture * Point::new(tape.center().x, tape.y0);
    let troubles = troubles(tape, tabs, placed, side, unit);
    TopHinge {
        carrier: corners(carrier).map(picture),
        tape: corners(tape).map(picture),
        tabs: tabs.map(|t| corners(t).map(picture)),
        holds: tabs.map(hold),
        run: up_to_mark(carrier.width()),
        tape_width: print(settings.tape_width_mm.mm(), unit),
        tape_top: print(datum.read(tape_middle).1, unit),
        pieces: pieces as u32,
        total: print(piece.mm * pieces + 2.0 * tab.mm, unit),
        piece,
        tab,
        cuts: cuts(lettering, carrier, placed, settings, unit),
        troubles,
    }
}

fn corners(rect: Rect) -> [Point; 4] {
    [
        Point::new(rect.x0, rect.y0),
        Point::new(rect.x1, rect.y0),
        Point::new(rect.x1, rect.y1),
        Point::new(rect.x0, rect.y1),
    ]
}

fn troubles(
    tape: Rect,
    tabs: [Rect; 2],
    placed: &Placed,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<String> {
    let mut troubles = Vec::new();
    let tape = Shape::rectangle(tape).transformed(placed.to_picture);
    let tabs = tabs.map(|t| Shape::rectangle(t).transformed(placed.to_picture));
    // The tape needs body above the piece: what stands over the outline's upper edge holds nothing.
    let over_edge = tape
        .edges()
        .chain(tabs.iter().flat_map(Shape::edges))
        .filter_map(|(p, _)| side.outline.span_at(p.x).map(|(top, _)| top - p.y))
        .fold(f64::NEG_INFINITY, f64::max);
    if over_edge > 0.0 {
        troubles.push(format!(
            "The tape would stand {} over the {}. Bring the piece down or hinge it from another edge.",
            print(over_edge, unit).text,
            side.side.rail
        ));
    }
    for hardware in side.hardware() {
        let on = |tape: &Shape| tape.distance_to(&hardware.outline, 1.0) <= 0.0;
        if on(&tape) || tabs.iter().any(on) {
            troubles.push(format!(
                "Tape would lie on the {}, where it cannot hold. Move the piece or interrupt the tape there.",
                hardware.name
            ));
        }
    }
    troubles
}

fn cuts(
    lettering: &Drawn,
    carrier: Rect,
    placed: &Placed,
    settings: &WorkSettings,
    unit: Unit,
) -> Vec<PartingCut> {
    let mut order: Vec<usize> = (0..lettering.parts.len()).collect();
    let middle = |n: usize| lettering.parts.get(n).map_or(0.0, |p| p.bounds.center().x);
    order.sort_by(|a, b| middle(*a).total_cmp(&middle(*b)));
    let parts: Vec<&Part> = order
        .iter()
        .filter_map(|n| lettering.parts.get(*n))
        .collect();
    let lines = lettering.lines();
    let line_of = |n: usize| {
        let part = order.get(n);
        lines
            .iter()
            .position(|l| part.is_some_and(|p| l.contains(p)))
    };
    // What a cut after so many parts passes between: in each line the letters on its left and on its right.
    let between = |n: usize| -> Vec<(String, String)> {
        let (left, right) = order.split_at((n + 1).min(order.len()));
        let name = |p: Option<&usize>| {
            p.and_then(|p| lettering.parts.get(*p))
                .map(|p| lettering.name_of(p))
        };
        let pair = |line: &Vec<usize>| {
            let a = name(line.iter().rev().find(|p| left.contains(p)))?;
            let b = name(line.iter().find(|p| right.contains(p)))?;
            Some((a, b))
        };
        lines.iter().filter_map(pair).collect()
    };
    let leans: Vec<i32> = std::iter::once(0)
        .chain((1..=MOST_LEAN_DEGREES).flat_map(|d| [d, -d]))
        .collect();
    let wanted = settings.cut_clearance_mm;
    // For each lean, upright first: the free strip between everything on the left and everything on the right of each place.
    // More lean is looked at only while some place has no cut yet.
    let mut strips: Vec<(i32, Vec<(f64, f64)>)> = Vec::new();
    let mut without_cut: Vec<usize> = (0..parts.len().saturating_sub(1)).collect();
    for lean in leans {
        let free = free_strips(&parts, lean);
        without_cut.retain(|n| free.get(*n).is_none_or(|s| (s.1 - s.0) / 2.0 < wanted));
        strips.push((lean, free));
        if without_cut.is_empty() {
            break;
        }
    }
    parts
        .windows(2)
        .enumerate()
        .map(|(n, pair)| {
            let (left, right) = match pair {
                [a, b] => (lettering.name_of(a), lettering.name_of(b)),
                _ => Default::default(),
            };
            let neighbours = line_of(n) == line_of(n + 1);
            let passed = between(n);
            let said: Vec<String> = passed.iter().map(|(a, b)| format!("{a} and {b}")).collect();
            let between = said.join(" / ");
            let clear = |strip: (f64, f64)| (strip.1 - strip.0) / 2.0;
            let at = |strips: &Vec<(f64, f64)>| strips.get(n).copied().unwrap_or((0.0, -1.0));
            let fit = strips.iter().find(|(_, s)| clear(at(s)) >= wanted);
            let best = strips.iter().max_by(|a, b| clear(at(&a.1)).total_cmp(&clear(at(&b.1))));
            let (lean_degrees, strip) =
                fit.or(best).map_or((0, (0.0, -1.0)), |(lean, strips)| (*lean, at(strips)));
            let clear_mm = clear(strip);
            if fit.is_none() {
                let sentence = if !neighbours {
                    String::new()
                } else if clear_mm < 0.0 {
                    format!("No straight cut between {left} and {right}, leaning at most {MOST_LEAN_DEGREES}\u{b0} (our figure): they overlap by {}. Part at the next space.", print(-2.0 * clear_mm, unit).text)
                } else {
                    format!("No cut between {left} and {right}: only {:.1} mm clear on each side. Part at the next space.", clear_mm)
                };
                return PartingCut { left, right, line: None, clear_mm, lean_degrees, back: None, sentence };
            }
            let normal = normal_of(lean_degrees);
            let offset = (strip.0 + strip.1) / 2.0;
            let on = |y: f64| Point::new((offset - normal.1 * y) / normal.0, y);
            let line = [on(carrier.y0), on(carrier.y1)].map(|p| placed.to_picture * p);
            let back = print(placed.datum.read(line[0]).0, unit);
            let sentence = if lean_degrees == 0 {
                format!("Cut upright between {between}, {} back.", back.text)
            } else {
                let way = if lean_degrees > 0 { "right" } else { "left" };
                format!("Cut between {between} leaning {}\u{b0} to the {way} at the top, {} back at the top edge.", lean_degrees.abs(), back.text)
            };
            let (left, right): (Vec<String>, Vec<String>) = passed.into_iter().unzip();
            PartingCut { left: left.join(" / "), right: right.join(" / "), line: Some(line.map(|p| [p.x, p.y])), clear_mm, lean_degrees, back: Some(back), sentence }
        })
        .collect()
}

/// Unit normal, to the right, of a cut that leans by so many degrees (top to the right positive).
fn normal_of(lean_degrees: i32) -> (f64, f64) {
    let (sine, cosine) = f64::from(lean_degrees).to_radians().sin_cos();
    (cosine, sine)
}

fn free_strips(parts: &[&Part], lean: i32) -> Vec<(f64, f64)> {
    let (nx, ny) = normal_of(lean);
    let extents: Vec<(f64, f64)> = parts
        .iter()
        .map(|part| {
            part.hull
                .iter()
                .map(|p| nx * p.x + ny * p.y)
                .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), e| {
                    (a.min(e), b.max(e))
                })
        })
        .collect();
    let mut nearest_right = vec![f64::INFINITY; extents.len() + 1];
    for n in (0..extents.len()).rev() {
        nearest_right[n] = nearest_right[n + 1].min(extents[n].0);
    }
    let mut farthest_left = f64::NEG_INFINITY;
    extents
        .iter()
        .enumerate()
        .map(|(n, (_, end))| {
            farthest_left = farthest_left.max(*end);
            (farthest_left, nearest_right[n + 1])
        })
        .take(extents.len().saturating_sub(1))
        .collect()
}
