//! The story tape: every mark along one datum as a running distance from one end; gaps between pieces; and both sides of a vehicle
//! beside each other. Nothing is left to be added up by the reader: printed gaps are differences of printed distances.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::art::Art;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{ChainMark, Length, Unit, chain, print};
use crate::place::rules::PlaceRule;
use crate::plan::planned::{PlannedPiece, SidePlan};

/// One mark of the story tape.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StoryMark {
    /// What is marked: `TIDEWAY BOOKS, first letter`.
    pub name: String,
    /// Running distance from the zero of the tape.
    pub running: Length,
    /// From the mark before it.
    pub gap: Length,
    /// What the tape must read down from the datum there, where something is read.
    pub down: Option<Length>,
}

/// Clear gap between two neighbouring pieces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceGap {
    /// The piece nearer the front, or the front edge.
    pub from: String,
    /// The piece nearer the rear, or the rear edge.
    pub to: String,
    /// Gap along the datum; less than 0 where they overlap in length.
    pub gap: Length,
}

/// The story of one datum.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Story {
    /// What the datum is called.
    pub datum: String,
    /// From its zero to its end.
    pub length: Length,
    /// Every mark in order.
    pub marks: Vec<StoryMark>,
    /// Gaps along it.
    pub gaps: Vec<PieceGap>,
}

/// A figure of a piece on both sides.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BothFigure {
    /// What is measured: `nearest to the front`.
    pub name: String,
    /// On this side.
    pub here: Length,
    /// On the other side.
    pub there: Length,
    /// The other less this one.
    pub difference: Length,
    /// Whether the two differ by more than the shop lets them.
    pub too_much: bool,
}

/// A piece with its twin on the other side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BothSides {
    /// The piece on this side.
    pub piece: Uuid,
    /// What it is called.
    pub called: String,
    /// Its twin; `None` where the other side has none.
    pub twin: Option<Uuid>,
    /// Their figures.
    pub figures: Vec<BothFigure>,
    /// What is wrong, in a sentence.
    pub trouble: Option<String>,
}

/// Stories of a side: one for each datum that a piece hangs on, the rail first.
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
/// # use windrift_core::plan::story::stories;
/// let plan = plan_side(&side, &[], &[(Default::default(), piece)], &JobAround::default(), &settings, unit).unwrap();
/// // One tape for the one datum that a piece hangs on, every mark a running distance from the front edge.
/// let told = stories(&plan, &settings, unit);
/// assert_eq!(told.len(), 1);
/// assert!(told[0].marks.iter().any(|m| m.running.text == "18"));
/// ```
pub fn stories(plan: &SidePlan, settings: &WorkSettings, unit: Unit) -> Vec<Story> {
    let side = &plan.side.side;
    let names = side.edge_names(settings.side_words);
    let mut references: Vec<Option<Uuid>> = vec![None];
    for piece in &plan.pieces {
        let reference = piece.piece.place.reference();
        if !references.contains(&reference) {
            references.push(reference);
        }
    }
    references
        .into_iter()
        .filter_map(|reference| {
            let datum = side.datum_of(reference)?;
            let pieces: Vec<&PlannedPiece> = plan
                .pieces
                .iter()
                .filter(|p| p.piece.place.reference() == reference)
                .collect();
            if pieces.is_empty() {
                return None;
            }
            let mut marks = vec![
                (names.zero.clone(), 0.0, None),
                (names.far.clone(), datum.length_mm, None),
            ];
            for piece in &pieces {
                marks.extend(marks_of(piece, side.direction()));
            }
            marks.sort_by(|a, b| a.1.total_cmp(&b.1));
            let printed: Vec<ChainMark> =
                chain(marks.iter().map(|m| (m.0.clone(), m.1)).collect(), unit);
            Some(Story {
                datum: side.datum_name(reference).to_owned(),
                length: print(datum.length_mm, unit),
                gaps: gaps(&pieces, &names.zero, &names.far, datum.length_mm, unit),
                marks: printed
                    .into_iter()
                    .zip(marks)
                    .map(|(c, (.., down))| StoryMark {
                        name: c.name,
                        running: c.running,
                        gap: c.gap,
                        down,
                    })
                    .collect(),
            })
        })
        .collect()
}

type Mark = (String, f64, Option<Length>);

fn marks_of(piece: &PlannedPiece, direction: f64) -> Vec<Mark> {
    let called = piece.piece.called();
    let (near, far) = piece.placed.back_mm;
    let flats = &piece.readings.flats;
    let (front, rear) = match (&piece.piece.art, direction > 0.0) {
        (Art::Lettering(_), true) => ("first letter".to_owned(), "last letter".to_owned()),
        (Art::Lettering(_), false) => ("last letter".to_owned(), "first letter".to_owned()),
        _ => {
            let [zero, far] = flats.ends.each_ref().map(|end| format!("{end} end"));
            (zero, far)
        }
    };
    let flat = |f: &crate::place::flats::Flat| {
        let what = f
            .letter
            .as_ref()
            .map_or("corner".to_owned(), |l| format!("flat of {l}"));
        (
            format!("{called}, {what}"),
            f.back_mm,
            Some(f.wanted.clone()),
        )
    };
    vec![
        (format!("{called}, {front}"), near, None),
        flat(&flats.front),
        flat(&flats.rear),
        (format!("{called}, {rear}"), far, None),
    ]
}

/// Gaps along the datum between pieces that stand at the same height, and from the first and the last to the edges.
fn gaps(pieces: &[&PlannedPiece], zero: &str, far: &str, length: f64, unit: Unit) -> Vec<PieceGap> {
    struct Span {
        name: String,
        near: f64,
        far: f64,
        top: f64,
        foot: f64,
    }
    let mut spans: Vec<Span> = pieces
        .iter()
        .map(|p| {
            let hull = crate::ground::outline::bounds_of(p.placed.hull.iter().copied());
            Span {
                name: p.piece.called(),
                near: p.placed.back_mm.0,
                far: p.placed.back_mm.1,
                top: hull.y0,
                foot: hull.y1,
            }
        })
        .collect();
    spans.sort_by(|a, b| a.near.total_cmp(&b.near));
    // Gaps are differences of printed distances, so that they close.
    let printed = |mm: f64| print(mm, unit).mm;
    let gap = |from: (&str, f64), to: (&str, f64)| PieceGap {
        from: from.0.to_owned(),
        to: to.0.to_owned(),
        gap: print(printed(to.1) - printed(from.1), unit),
    };
    let level = |a: &Span, b: &Span| a.top < b.foot && b.top < a.foot;
    let mut found = Vec::new();
    for (n, span) in spans.iter().enumerate() {
        let before = spans[..n]
            .iter()
            .filter(|b| level(span, b))
            .max_by(|a, b| a.far.total_cmp(&b.far));
        let from = before.map_or((zero, 0.0), |b| (b.name.as_str(), b.far));
        found.push(gap(from, (&span.name, span.near)));
        if !spans[n + 1..].iter().any(|next| level(span, next)) {
            found.push(gap((&span.name, span.far), (far, length)));
        }
    }
    found
}

/// Compares the pieces of two sides that mirror each other: a piece and the one that mirrors it, or else the one of the same name.
pub fn both_sides(
    here: &SidePlan,
    there: &SidePlan,
    settings: &WorkSettings,
    unit: Unit,
) -> Vec<BothSides> {
    here.pieces
        .iter()
        .map(|piece| {
            let called = piece.piece.called();
            let twin = there.pieces.iter().find(|t| mirrors(piece, t) || mirrors(t, piece)).or_else(|| {
                there.pieces.iter().find(|t| t.piece.called() == called)
            });
            let Some(twin) = twin else {
                return BothSides {
                    trouble: Some(format!("\u{201c}{called}\u{201d} is not on the other side.")),
                    piece: piece.id,
                    called,
                    twin: None,
                    figures: Vec::new(),
                };
            };
            let figures = figures(piece, twin, settings.pair_tolerance_mm.mm(), unit);
            let worst = figures
                .iter()
                .filter(|f| f.too_much)
                .max_by(|a, b| a.difference.mm.abs().total_cmp(&b.difference.mm.abs()));
            BothSides {
                trouble: worst.map(|f| {
                    format!(
                        "\u{201c}{called}\u{201d} differs by {} ({}). Lay the second side from the first one's figures.",
                        f.difference.text.trim_start_matches('\u{2212}'),
                        f.name
                    )
                }),
                piece: piece.id,
                called,
                twin: Some(twin.id),
                figures,
            }
        })
        .collect()
}

fn mirrors(a: &PlannedPiece, b: &PlannedPiece) -> bool {
    matches!(a.piece.place, PlaceRule::Mirrored { of } if of == b.id)
}

fn figures(a: &PlannedPiece, b: &PlannedPiece, tolerance: f64, unit: Unit) -> Vec<BothFigure> {
    let middle = |p: &PlannedPiece| {
        let drawn = &p.drawn;
        let y = if drawn.has_letters {
            0.0
        } else {
            drawn.nominal.y0
        };
        p.placed
            .datum
            .read(p.placed.to_picture * kurbo::Point::new(drawn.nominal.center().x, y))
            .1
    };
    let line = if a.drawn.has_letters {
        "down to the cap line, at the middle"
    } else {
        "down to the upper edge, at the middle"
    };
    [
        ("nearest the front", a.placed.back_mm.0, b.placed.back_mm.0),
        (
            "farthest from the front",
            a.placed.back_mm.1,
            b.placed.back_mm.1,
        ),
        (line, middle(a), middle(b)),
        ("width", a.drawn.nominal.width(), b.drawn.nominal.width()),
    ]
    .into_iter()
    .map(|(name, here, there)| {
        let (here_printed, there_printed) = (print(here, unit), print(there, unit));
        BothFigure {
            name: name.to_owned(),
            difference: print(there_printed.mm - here_printed.mm, unit),
            here: here_printed,
            there: there_printed,
            too_much: (there - here).abs() > tolerance + 1e-9,
        }
    })
    .collect()
}
