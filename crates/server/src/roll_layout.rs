//! Everything of one film that is still to be cut for a job, laid on its rolls.

use kurbo::Point;
use uuid::Uuid;
use windrift_core::cut::lots::{OfLot, seen_together, tried_together};
use windrift_core::cut::nest::{Bin, NestError, NestPiece};
use windrift_core::cut::offcut::largest_free;
use windrift_core::cut::pieces::CutPiece;
use windrift_core::ground::outline::{Shape, bounds_of_shapes};
use windrift_core::ground::tape::print;
use windrift_formats::svg::screen_path;

use crate::job_pieces::{CutEntry, JobPieces, Taken, TakenPiece, hash_of, with_panel};
use crate::nests::{Found, Search, StandingRoll, cut_of, go_on, longest_of, print_width};
use crate::problem::Problem;
use crate::views::{CutAlready, LaidPiece, LaidRoll, NestView, OffcutView, RollToOrder, SCREEN_MM};

/// What is ordered is worked out on a roll without an end, mm: as much as anybody would order at once.
const NEW_ROLL_MM: f64 = 200_000.0;

/// A layout with what it takes of each roll.
pub(crate) struct Layout {
    pub view: NestView,
    /// Roll, length of it, mm, and what that is for.
    pub takes: Vec<(StandingRoll, f64, Taken)>,
}

/// A film of the shelf with its rolls.
#[derive(Clone)]
pub(crate) struct FilmRolls {
    pub film: Uuid,
    pub name: String,
    pub rolls: Vec<StandingRoll>,
}

/// One thing to be cut.
struct ToCut {
    piece: Uuid,
    called: String,
    side: String,
    colour: String,
    art: String,
    cut: CutPiece,
}

/// What of a film is still to be cut.
fn to_cut(job: &JobPieces, of: &FilmRolls) -> Vec<ToCut> {
    let (width, longest) = (print_width(&of.rolls), longest_of(&of.rolls));
    let mut all = Vec::new();
    for (side, piece) in job.of_film(of.film) {
        let measured = &side.planned.plan.side;
        let cut = cut_of(piece, measured, width, longest, &job.ways, job.unit);
        let left = cut.into_iter().filter(|c| !job.is_cut(piece, c.panel));
        all.extend(left.map(|cut| ToCut {
            piece: piece.id,
            called: with_panel(&piece.piece.called(), cut.panel),
            side: side.name.clone(),
            colour: piece.piece.colour().to_owned(),
            art: hash_of(&piece.piece.art),
            cut,
        }));
    }
    all
}

/// Rolls that are laid on together, as bins, with what was found.
struct On {
    rolls: Vec<StandingRoll>,
    bins: Vec<Bin>,
    found: Found,
}

/// The first rolls that have enough, as they are tried together; all of them where none have.
fn laid_on(
    job: &JobPieces,
    of: &FilmRolls,
    pieces: &[NestPiece],
    how: Search<'_>,
) -> Result<On, NestError> {
    let margin = job.ways.printer_margin_mm.mm();
    let with_left: Vec<(&str, f64)> = (of.rolls.iter())
        .map(|r| (r.roll.lot.as_str(), r.row.left_mm))
        .collect();
    let cut = job.cut_with_lots(Some(of.film));
    let cut_from = cut.first().map(|c| c.lot.as_str());
    let mut last = Err(NestError::TooLarge(1));
    for together in tried_together(&with_left, cut_from) {
        let rolls: Vec<StandingRoll> = (together.iter())
            .filter_map(|n| of.rolls.get(*n).cloned())
            .collect();
        let bins: Vec<Bin> = (rolls.iter())
            .map(|r| Bin {
                width_mm: (r.roll.width_mm.mm() - 2.0 * margin).max(1.0),
                length_mm: r.row.left_mm,
                offcut: r.roll.offcut,
            })
            .collect();
        last = go_on(pieces, &bins, job.ways.cut_gap_mm.mm(), how).map(|found| On {
            rolls,
            bins,
            found,
        });
        if last.as_ref().is_ok_and(|on| on.found.left_over == 0) {
            break;
        }
    }
    last
}

/// What a new roll must have for everything that is still to be cut, as wide as the film's others; `None` where it would not do.
fn on_a_new_roll(
    job: &JobPieces,
    of: &FilmRolls,
    pieces: &[NestPiece],
    how: Search<'_>,
) -> Option<RollToOrder> {
    let width = print_width(&of.rolls);
    let bins = [Bin {
        width_mm: (width - 2.0 * job.ways.printer_margin_mm.mm()).max(1.0),
        length_mm: NEW_ROLL_MM,
        offcut: false,
    }];
    let found = go_on(pieces, &bins, job.ways.cut_gap_mm.mm(), how).ok()?;
    (found.left_over == 0).then(|| RollToOrder {
        wide: print(width, job.unit),
        long: print(found.nest.length_mm(&bins), job.unit),
    })
}

/// Lays everything of a film that is still to be cut on its rolls. Computes: called where computation is done.
pub(crate) fn lay_out(job: &JobPieces, of: &FilmRolls, how: Search<'_>) -> Result<Layout, Problem> {
    let unit = job.unit;
    let to_cut = to_cut(job, of);
    let pieces: Vec<NestPiece> = to_cut.iter().map(|c| c.cut.nest.clone()).collect();
    let mut view = NestView {
        film: of.film,
        film_name: of.name.clone(),
        rolls: Vec::new(),
        used: print(0.0, unit),
        least: print(0.0, unit),
        waste: 0.0,
        tried: 0,
        done: false,
        short: None,
        new_roll: None,
        lots: Vec::new(),
        cut: cut_already(job, of.film),
    };
    if to_cut.is_empty() || of.rolls.is_empty() {
        if !to_cut.is_empty() {
            let new = on_a_new_roll(job, of, &pieces, how);
            view.short = Some(match &new {
                Some(new) => format!(
                    "No roll of {} is on the shelf. Of one {} wide this takes {}: put it there, or order it, from one lot.",
                    of.name, new.wide.text, new.long.text
                ),
                None => format!(
                    "No roll of {} is on the shelf. Put one there, or order it.",
                    of.name
                ),
            });
            view.new_roll = new;
        }
        return Ok(Layout {
            view,
            takes: Vec::new(),
        });
    }
    let On { rolls, bins, found } = laid_on(job, of, &pieces, how).map_err(|e| {
        let sentence = match e {
            NestError::TooLarge(n) => format!(
                "{} is larger than every roll and offcut of {} that is left. Put a roll on the shelf, or choose another film.",
                to_cut.get(n - 1).map_or("A piece", |c| c.called.as_str()),
                of.name
            ),
            other => other.to_string(),
        };
        Problem::input("nest", sentence)
    })?;
    let mut takes = Vec::new();
    let mut with_lots = job.cut_with_lots(Some(of.film));
    let (mut covered, mut taken) = (0.0, 0.0);
    for (n, roll) in rolls.iter().enumerate() {
        let on_it = laid_pieces(job, &to_cut, &found, n);
        if on_it.is_empty() {
            continue;
        }
        let used = found.nest.used_mm.get(n).copied().unwrap_or(0.0);
        covered += (on_it.iter()).map(|(c, _)| covers(c)).sum::<f64>();
        taken += used * roll.roll.width_mm.mm();
        with_lots.extend(on_it.iter().map(|(c, p)| OfLot {
            side: c.side.clone(),
            film: of.film,
            called: p.called.clone(),
            lot: roll.roll.lot.clone(),
        }));
        let cut = on_it.iter().map(|(c, p)| TakenPiece {
            piece: p.piece,
            called: p.called.clone(),
            panel: p.panel,
            art: Some(c.art.clone()),
            bounds: p.bounds,
        });
        let of_it = Taken {
            lot: roll.roll.lot.clone(),
            width_mm: Some(roll.roll.width_mm.mm()),
            tape: None,
            pieces: cut.collect(),
        };
        takes.push((roll.clone(), used, of_it));
        view.rolls.push(LaidRoll {
            id: roll.row.id,
            revision: roll.row.revision,
            lot: roll.roll.lot.clone(),
            place: roll.roll.place.clone(),
            offcut: roll.roll.offcut,
            width: print(roll.roll.width_mm.mm(), unit),
            left: print(roll.row.left_mm, unit),
            used: print(used, unit),
            stays: print((roll.row.left_mm - used).max(0.0), unit),
            pieces: on_it.into_iter().map(|(_, p)| p).collect(),
        });
    }
    if found.left_over > 0 {
        let new = on_a_new_roll(job, of, &pieces, how);
        let all = new.as_ref().map_or(String::new(), |new| {
            format!(
                " A new one {} wide takes all of them on {}, from one lot.",
                new.wide.text, new.long.text
            )
        });
        view.short = Some(format!(
            "{} of {} find no room on what is left of {}. Put another roll on the shelf, or order one.{all}",
            found.left_over,
            to_cut.len(),
            of.name
        ));
        view.new_roll = new;
    }
    view.used = print(found.nest.length_mm(&bins), unit);
    view.least = print(found.least_mm, unit);
    view.waste = if taken > 0.0 {
        100.0 * (1.0 - covered / taken)
    } else {
        0.0
    };
    view.tried = found.tried;
    view.done = found.done;
    view.lots = seen_together(&with_lots);
    Ok(Layout { view, takes })
}

/// So much of its box, and a piece takes all of it: lettering with its weeding box, a panel (ours).
const ALL_OF_A_BOX: f64 = 0.98;

/// Film that a piece takes of a roll, mm²: lettering with its weeding box, everything else by its outline.
fn covers(cut: &ToCut) -> f64 {
    cut.cut.nest.shapes.iter().map(Shape::area).sum()
}

/// What lies on one of the rolls, in the order in which it is cut.
fn laid_pieces<'a>(
    job: &JobPieces,
    to_cut: &'a [ToCut],
    found: &Found,
    bin: usize,
) -> Vec<(&'a ToCut, LaidPiece)> {
    let margin = job.ways.printer_margin_mm.mm();
    let mut pieces: Vec<(&ToCut, LaidPiece)> = (found.nest.laid.iter())
        .filter(|l| l.bin == bin)
        .filter_map(|l| {
            let c = to_cut.get(l.piece)?;
            let at = Point::new(l.at.x, l.at.y + margin);
            let to_roll = c.cut.nest.to_roll(at, l.quarters);
            let whole: Vec<_> = (c.cut.nest.shapes.iter())
                .map(|s| s.transformed(to_roll))
                .collect();
            let b = bounds_of_shapes(&whole);
            let laid = LaidPiece {
                piece: c.piece,
                called: c.called.clone(),
                panel: c.cut.panel,
                path: screen_path(&c.cut.film_at(at, l.quarters), SCREEN_MM * 4.0),
                bounds: [b.x0, b.y0, b.width(), b.height()],
                boxed: covers(c) > ALL_OF_A_BOX * b.area(),
                from: print(b.x0, job.unit),
                colour: c.colour.clone(),
                turned: l.quarters > 0,
            };
            Some((c, laid))
        })
        .collect();
    pieces.sort_by(|(_, a), (_, b)| a.bounds[0].total_cmp(&b.bounds[0]));
    pieces
}

fn cut_already(job: &JobPieces, film: Uuid) -> Vec<CutAlready> {
    let own: Vec<Uuid> = job.of_film(film).map(|(_, p)| p.id).collect();
    (job.cut.iter())
        .filter(|e| e.taken.pieces.iter().any(|p| own.contains(&p.piece)))
        .map(|e| CutAlready {
            roll: e.roll,
            lot: e.taken.lot.clone(),
            length: print(e.length_mm, job.unit),
            at: e.at,
            pieces: e.taken.pieces.iter().map(|p| p.called.clone()).collect(),
            offcut: offcut_of(job, e),
        })
        .collect()
}

/// Any number: the key of what is left of a cut follows from the cut's.
const OFFCUT: u128 = 0x0ff0_c0a7;

/// The largest rectangle that is left beside what was cut. It keeps the same key whoever puts it on the shelf: it is there once.
fn offcut_of(job: &JobPieces, cut: &CutEntry) -> Option<OffcutView> {
    let boxes: Vec<[f64; 4]> = cut.taken.pieces.iter().map(|p| p.bounds).collect();
    let gap = job.ways.cut_gap_mm.mm();
    let [_, _, long, wide] = largest_free(cut.length_mm, cut.taken.width_mm?, &boxes, gap)?;
    Some(OffcutView {
        id: Uuid::from_u128(cut.id.as_u128() ^ OFFCUT),
        length: print(long, job.unit),
        width: print(wide, job.unit),
        kept: false,
    })
}
