//! The better spot: every move of a window round the wanted place, judged exactly, and the three best that are worth trying.
//!
//! Hard conflicts (film on hardware, glass, lamps, plates, labels, vents and exits, nearer than its clearance, or off the body) are
//! never traded against soft ones. Soft conflicts are weighed by the shop's [`Weights`]. Among equal spots the one that stays as good when the
//! hand is a step off all round goes first, then the smallest move; each says how far the hand may be off.
//!
//! Nothing is sampled: for each head, line and area the moves at which film touches it are found row by row in closed form, as
//! spans between the moves at which an edge begins and ceases to touch.

mod count;
pub mod grid;
mod spare;
mod words;

use kurbo::{Affine, Vec2};
use serde::{Deserialize, Serialize};

use crate::art::drawn::Drawn;
use crate::ground::mm::{Mm, SignedMm};
use crate::ground::tape::{Length, Unit};
use crate::ground::weights::Weights;
use crate::place::landing;
use crate::place::landing::Landing;
use crate::place::placed::Placed;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::EdgeNames;

pub use count::{Counts, Map};
pub use grid::{Grid, MOST_STEPS};

use words::{compare, meets, moved, spare_said, told_spare};

/// Two spots are worth showing beside each other when they lie at least this far apart, mm: 1/2 in.
pub const APART_MM: f64 = 12.7;
/// Most spots that are shown.
const MOST_SPOTS: usize = 3;
/// Widest window on each side, mm.
pub const WIDEST_MM: f64 = 200.0;

/// How far a piece may be moved.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Window {
    /// Along the datum to each side, mm; 0 locks it.
    pub along_mm: Mm,
    /// Up and down, mm; 0 locks it.
    pub down_mm: SignedMm,
}

impl Default for Window {
    /// Three inches each way.
    fn default() -> Self {
        Window {
            along_mm: 76.2.into(),
            down_mm: 76.2.into(),
        }
    }
}

impl Window {
    /// The grid of whole steps within the window: sixteenths of an inch or millimetres, wider where the window would have more
    /// than [`MOST_STEPS`] of them.
    pub fn grid(&self, unit: Unit) -> Grid {
        let clamped = |mm: f64| {
            if mm.is_finite() {
                mm.clamp(0.0, WIDEST_MM)
            } else {
                0.0
            }
        };
        let (along, down) = (clamped(self.along_mm.mm()), clamped(self.down_mm.mm()));
        let step = if unit == Unit::Millimetre {
            1.0
        } else {
            25.4 / 16.0
        };
        let wider = (along.max(down) / step / f64::from(MOST_STEPS))
            .ceil()
            .max(1.0);
        let step_mm = step * wider;
        let steps = |mm: f64| (mm / step_mm + 1e-9).floor() as u32;
        Grid {
            half_columns: steps(along),
            half_rows: steps(down),
            step_mm,
        }
    }
}

/// One spot of the window.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Spot {
    /// Move to the right in the picture, along the datum, mm.
    pub right_mm: f64,
    /// Move down, square to the datum, mm.
    pub down_mm: f64,
    /// The move in words: `1 3/8 back, 1/2 up`.
    pub moved: String,
    /// What film meets there.
    pub counts: Counts,
    /// Weighed sum of the soft conflicts, points.
    pub points: f64,
    /// How far the hand may be off, along and at each flat by itself, before a cut edge comes onto a head, film nearer than it may to what it
    /// keeps off, or off the body.
    pub to_spare: Length,
    /// Whether there is more than that to spare: nobody looks farther.
    pub spare_and_more: bool,
    /// What is met there, in words.
    pub meets: String,
    /// What there is to spare, and of what, in words; nothing where it lies on what it must keep off.
    pub spare_said: Option<String>,
    /// What it gains over the wanted spot, in plain words.
    pub gains: Vec<String>,
    /// What it costs.
    pub costs: Vec<String>,
}

/// What was found in a window.
#[derive(Debug, Clone, PartialEq)]
pub struct Found {
    /// The window.
    pub grid: Grid,
    /// What film meets at every move.
    pub map: Map,
    /// The wanted spot.
    pub wanted: Spot,
    /// The best others, best first: separate optima at least 1/2 in apart and from the wanted one, none of them on what film keeps off.
    pub best: Vec<Spot>,
    /// The answer in a sentence.
    pub sentence: String,
}

/// A placed piece that is to be moved.
pub type Movable<'p> = (&'p Drawn, &'p Placed);

/// Searches a window. Several pieces move together and keep their spacing.
///
/// Directions are those of the first piece's datum.
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
/// # use windrift_core::{ground::weights::Weights, place::spots::{Window, search}};
/// let window = Window { along_mm: 25.4.into(), down_mm: 0.0.into() };
/// let found = search(&[(&planned.drawn, &planned.placed)], &measured, window, &Weights::default(), unit);
/// // An inch either way in sixteenths, one row: 33 spots. On a bare side none is better than where the piece is.
/// assert_eq!((found.grid.columns(), found.grid.rows()), (33, 1));
/// assert_eq!(found.wanted.counts.hard, 0);
/// ```
pub fn search(
    pieces: &[Movable<'_>],
    side: &MeasuredSide,
    window: Window,
    weights: &Weights,
    unit: Unit,
) -> Found {
    let grid = window.grid(unit);
    let frame = Frame::of(pieces, side);
    let mut map = Map::new(&grid);
    for (drawn, placed) in pieces {
        count::piece(
            &mut map,
            &grid,
            drawn,
            &frame.film(placed),
            side,
            &frame.still(),
        );
    }
    let keys = only_keys(pieces);
    let here = map.at(grid.cell(grid.half_columns as usize, grid.half_rows as usize));
    let spot = |cell: usize| -> Spot {
        let (column, row) = (cell % grid.columns(), cell / grid.columns());
        let counts = map.at(cell);
        let (gains, costs) = compare(&here, &counts, keys);
        let (right_mm, down_mm) = (grid.right(column), grid.down(row));
        let spare = spare::spare_mm(pieces, side, right_mm, down_mm);
        Spot {
            to_spare: told_spare(spare, unit),
            spare_and_more: spare >= spare::ENOUGH_MM,
            meets: meets(&counts, keys),
            spare_said: spare_said(&counts, spare, keys, unit),
            right_mm,
            down_mm,
            moved: moved(right_mm * side.side.direction(), down_mm, unit),
            points: counts.points(weights),
            counts,
            gains,
            costs,
        }
    };
    let wanted = spot(grid.cell(grid.half_columns as usize, grid.half_rows as usize));
    let best: Vec<Spot> = pick(&grid, &map, weights).into_iter().map(spot).collect();
    let sentence = tell(&wanted, &best, pieces);
    Found {
        grid,
        map,
        wanted,
        best,
        sentence,
    }
}

/// What one move changes, for a spot that was touched on the map.
pub fn try_spot(
    found: &Found,
    pieces: &[Movable<'_>],
    column: usize,
    row: usize,
    weights: &Weights,
    side: &MeasuredSide,
    unit: Unit,
) -> Option<Spot> {
    let grid = &found.grid;
    if column >= grid.columns() || row >= grid.rows() {
        return None;
    }
    let counts = found.map.at(grid.cell(column, row));
    let (gains, costs) = compare(&found.wanted.counts, &counts, only_keys(pieces));
    let (right_mm, down_mm) = (grid.right(column), grid.down(row));
    let spare = spare::spare_mm(pieces, side, right_mm, down_mm);
    Some(Spot {
        to_spare: told_spare(spare, unit),
        spare_and_more: spare >= spare::ENOUGH_MM,
        meets: meets(&counts, only_keys(pieces)),
        spare_said: spare_said(&counts, spare, only_keys(pieces), unit),
        right_mm,
        down_mm,
        moved: moved(right_mm * side.side.direction(), down_mm, unit),
        points: counts.points(weights),
        counts,
        gains,
        costs,
    })
}

/// The landing of a piece moved by a spot: the full report, made without the search.
pub fn landing_at(
    (drawn, placed): Movable<'_>,
    right_mm: f64,
    down_mm: f64,
    side: &MeasuredSide,
    names: &EdgeNames,
    unit: Unit,
) -> Landing {
    let by = placed.datum.back * (right_mm * side.side.direction()) + placed.datum.down * down_mm;
    let shift = Affine::translate(by);
    let moved = Placed {
        to_picture: shift * placed.to_picture,
        hull: placed.hull.iter().map(|p| shift * *p).collect(),
        ..placed.clone()
    };
    landing::report(drawn, &moved, side, names, unit)
}

/// The frame of the search: x along the datum to the picture's right, y square to it, downwards.
struct Frame {
    from_picture: Affine,
}

impl Frame {
    fn of(pieces: &[Movable<'_>], side: &MeasuredSide) -> Frame {
        let datum = pieces
            .first()
            .map_or(side.datum, |(_, placed)| placed.datum);
        let right: Vec2 = datum.back * side.side.direction();
        let down: Vec2 = datum.down;
        // Rows of the turn are the two directions.
        Frame {
            from_picture: Affine::new([right.x, down.x, right.y, down.y, 0.0, 0.0]),
        }
    }

    fn film(&self, placed: &Placed) -> Affine {
        self.from_picture * placed.to_picture
    }

    fn still(&self) -> Affine {
        self.from_picture
    }
}

/// The best cells: one for each local optimum (no neighbour is better), the one with the smallest move where several are equal and
/// hang together; at least 1/2 in apart, and from the wanted spot.
fn pick(grid: &Grid, map: &Map, weights: &Weights) -> Vec<usize> {
    let (columns, rows) = (grid.columns(), grid.rows());
    let cells = columns * rows;
    let key: Vec<(u32, u64)> = (0..cells)
        .map(|c| {
            let counts = map.at(c);
            // Thousandths of a point: equal sums compare equal however they were added up.
            (
                counts.hard,
                (counts.points(weights) * 1000.0).round() as u64,
            )
        })
        .collect();
    let square = |cell: usize| {
        let (x, y) = (grid.right(cell % columns), grid.down(cell / columns));
        x * x + y * y
    };
    // One step off to any side is still as good: a hand can hit it.
    let steady = |cell: usize| {
        let (x, y) = (cell % columns, cell / columns);
        let inside = |n: usize, count: usize| count == 1 || (n > 0 && n + 1 < count);
        inside(x, columns)
            && inside(y, rows)
            && (y.saturating_sub(1)..=(y + 1).min(rows - 1)).all(|ny| {
                (x.saturating_sub(1)..=(x + 1).min(columns - 1))
                    .all(|nx| key[ny * columns + nx] <= key[cell])
            })
    };
    let mut seen = vec![false; cells];
    let mut optima: Vec<usize> = Vec::new();
    for start in 0..cells {
        if seen[start] {
            continue;
        }
        // Everything equal that hangs together with it.
        let mut plateau = vec![start];
        let mut best_of = start;
        let mut is_optimum = true;
        seen[start] = true;
        let mut next = 0;
        while let Some(&cell) = plateau.get(next) {
            next += 1;
            let better = match (steady(cell), steady(best_of)) {
                (true, false) => true,
                (false, true) => false,
                _ => square(cell) < square(best_of) - 1e-9,
            };
            if better {
                best_of = cell;
            }
            let (x, y) = (cell % columns, cell / columns);
            for ny in y.saturating_sub(1)..=(y + 1).min(rows - 1) {
                for nx in x.saturating_sub(1)..=(x + 1).min(columns - 1) {
                    let other = ny * columns + nx;
                    if key[other] < key[start] {
                        is_optimum = false;
                    } else if key[other] == key[start] && !seen[other] {
                        seen[other] = true;
                        plateau.push(other);
                    }
                }
            }
        }
        if is_optimum {
            optima.push(best_of);
        }
    }
    optima.sort_by(|a, b| {
        key[*a]
            .cmp(&key[*b])
            .then(square(*a).total_cmp(&square(*b)))
    });
    let mut picked: Vec<usize> = Vec::new();
    let wanted = grid.cell(grid.half_columns as usize, grid.half_rows as usize);
    let apart = |a: usize, b: usize| {
        let dx = grid.right(a % columns) - grid.right(b % columns);
        let dy = grid.down(a / columns) - grid.down(b / columns);
        dx.hypot(dy) >= APART_MM - 1e-9
    };
    for cell in optima {
        // The very best is shown even where it lies near the wanted spot: it is better.
        // Past an outline, below the waterline, on what film keeps off: never offered, however many more of them the wanted spot meets.
        if key[cell].0 > 0 {
            continue;
        }
        let beside_wanted = apart(cell, wanted) || (picked.is_empty() && key[cell] < key[wanted]);
        if beside_wanted && picked.iter().all(|p| apart(*p, cell)) {
            picked.push(cell);
        }
        if picked.len() == MOST_SPOTS {
            break;
        }
    }
    picked
}

/// Whether it is only asked for what must stay clear in prints: no film of letters moves with them.
fn only_keys(pieces: &[Movable<'_>]) -> bool {
    pieces
        .iter()
        .all(|(drawn, _)| drawn.stays_clear_mm.is_some())
}

fn tell(wanted: &Spot, best: &[Spot], pieces: &[Movable<'_>]) -> String {
    if pieces.iter().all(|(drawn, _)| drawn.parts.is_empty()) {
        return "A print is worked over what it meets. Say under Panel what must stay clear in the picture; then a better spot can be looked for.".to_owned();
    }
    match best.first() {
        Some(spot)
            if (spot.counts.hard, spot.points) < (wanted.counts.hard, wanted.points - 1e-9) =>
        {
            let gains = spot.gains.first().cloned().unwrap_or_default();
            let cost = spot
                .costs
                .first()
                .map(|c| format!(", for {c}"))
                .unwrap_or_default();
            format!("{}: {gains}{cost}.", spot.moved)
        }
        _ if wanted.counts == Counts::default() && only_keys(pieces) => {
            "Everything that must stay clear in the picture does. Leave it.".to_owned()
        }
        _ if wanted.counts == Counts::default() => {
            "The wanted spot meets nothing. Leave it.".to_owned()
        }
        _ if wanted.counts.hard > 0 => {
            "No spot in this window is clear of all that it must keep off. Look farther, or make it smaller.".to_owned()
        }
        _ => "No spot in this window is better than the wanted one.".to_owned(),
    }
}
