//! A print parted at gaps: each part is made in panels by itself, and reaches past the gap by what is turned in.

use kurbo::Rect;
use serde::Serialize;

use crate::cut::split::NARROWEST_MM;
use crate::film::work::{GapAt, Stand};
use crate::ground::outline::segment_within;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::{MeasuredLine, MeasuredSide};

/// A gap that runs less far across a part than this share of it does not part it: it ends within.
const ACROSS: f64 = 0.98;

/// A gap that a print crosses from edge to edge, at which it can be parted.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PrintGap {
    /// Which.
    #[serde(flatten)]
    pub gap: GapAt,
    /// What it is called: `door gap 2`.
    pub name: String,
    /// Whether the print is parted there.
    pub parted: bool,
}

/// A part of a print between gaps, in the print's film frame, mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Parted {
    /// Its film, with what is turned in.
    pub film: Rect,
    /// To the middle of each gap: what is seen in the end.
    pub trimmed: Rect,
    /// Names of the gaps at its front, rear, upper and lower end.
    ends: [Option<String>; 4],
}

const FRONT: usize = 0;
const REAR: usize = 1;
const TOP: usize = 2;
const FOOT: usize = 3;

impl Parted {
    /// Where it lies, in words; nothing where the print is not parted.
    pub fn lies(&self) -> Option<String> {
        let of = |n: usize| self.ends[n].as_deref();
        let between = |low: Option<&str>, high: Option<&str>, words: [&str; 2]| match (low, high) {
            (Some(low), Some(high)) => Some(format!("between {low} and {high}")),
            (Some(low), None) => Some(format!("{} {low}", words[0])),
            (None, Some(high)) => Some(format!("{} {high}", words[1])),
            (None, None) => None,
        };
        let all = [
            between(of(FRONT), of(REAR), ["behind", "in front of"]),
            between(of(TOP), of(FOOT), ["below", "above"]),
        ];
        let said: Vec<String> = all.into_iter().flatten().collect();
        (!said.is_empty()).then(|| said.join(", "))
    }

    /// Where joins of panels that stand so are measured from.
    pub(super) fn from(&self, stand: Stand) -> String {
        let (edge, end) = match stand {
            Stand::Upright => ("rear edge", REAR),
            Stand::Lying => ("foot", FOOT),
        };
        match (&self.ends[end], self.lies()) {
            (Some(_), Some(lies)) => {
                format!("the {edge} of the part {lies}, with what is turned in")
            }
            _ => format!("the print\u{2019}s {edge}"),
        }
    }

    /// Names of the gaps that it ends at.
    pub(super) fn gaps(&self) -> impl Iterator<Item = &str> {
        self.ends.iter().flatten().map(String::as_str)
    }
}

/// Gaps of doors that a print crosses from edge to edge, from the front, and whether it is parted there. What is no gap of a door parts no print: a crease is no
/// place for a join.
pub fn print_gaps(planned: &PlannedPiece, side: &MeasuredSide) -> Vec<PrintGap> {
    let film = planned.drawn.bounds;
    (side.lines.iter())
        .filter(|l| l.kind == FeatureKind::DoorGap && crossed(l, film, planned).is_some())
        .map(|l| PrintGap {
            gap: at(l),
            name: l.name.clone(),
            parted: planned.piece.work.parted_at.contains(&at(l)),
        })
        .collect()
}

fn at(line: &MeasuredLine) -> GapAt {
    GapAt {
        feature: line.source.0,
        number: line.source.1,
    }
}

/// The parts of a print between the gaps at which it is parted: the lower before the upper, the rear before the front. A gap that a part does not meet from edge to edge
/// leaves it whole.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::cut::parted::{parts_of, print_gaps};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::feature::{Feature, SideFeature, form::Form, kind::FeatureKind};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// // A door gap 1500 mm back, across a print of 3 m that begins 200 mm back.
/// let gap = Form::Upright { first_mm: 1500.0.into(), pitch_mm: 0.0.into(), count: 1 };
/// # let feature = SideFeature { id: uuid::Uuid::from_u128(1), feature: Feature::new(FeatureKind::DoorGap, gap) };
/// # let measured = measure(&side, &[feature]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 3000.0.into(), height_mm: 900.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let mut piece = Piece::new(Art::Panel(print), PlaceRule::from_front(200.0, LetterEnd::FirstLetter, 200.0));
/// # let plan = |piece: &Piece| plan_piece(Default::default(), piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let gaps = print_gaps(&plan(&piece), &measured);
/// piece.work.parted_at = vec![gaps[0].gap];
/// let parts = parts_of(&plan(&piece), &measured, 12.5);
/// // Behind the gap 1700 mm and what is turned in, before it 1300.
/// assert_eq!(parts.iter().map(|p| p.film.width()).collect::<Vec<_>>(), [1712.5, 1312.5]);
/// assert_eq!(parts[0].lies().unwrap(), format!("behind {}", gaps[0].name));
/// ```
pub fn parts_of(planned: &PlannedPiece, side: &MeasuredSide, turn_in_mm: f64) -> Vec<Parted> {
    let front_left = side.side.direction() > 0.0;
    let film = planned.drawn.bounds;
    let mut parts = vec![Parted {
        film,
        trimmed: film,
        ends: [const { None }; 4],
    }];
    let gaps: Vec<&MeasuredLine> = (side.lines.iter())
        .filter(|l| l.kind == FeatureKind::DoorGap && planned.piece.work.parted_at.contains(&at(l)))
        .collect();
    // Gaps that lie part the print first, upright ones what is between them.
    for upright in [false, true] {
        for gap in &gaps {
            let mut next = Vec::new();
            for part in parts {
                match crossed(gap, part.trimmed, planned).filter(|c| c.upright == upright) {
                    Some(c) => next.extend(part.halves(&c, &gap.name, turn_in_mm, front_left)),
                    None => next.push(part),
                }
            }
            parts = next;
        }
    }
    let order = |p: &Parted| {
        let back = if front_left {
            -p.trimmed.x1
        } else {
            p.trimmed.x0
        };
        (-p.trimmed.y1, back)
    };
    parts.sort_by(|a, b| {
        let (a, b) = (order(a), order(b));
        a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1))
    });
    parts
}

impl Parted {
    /// Both halves of it.
    fn halves(self, c: &Crossed, name: &str, turn_in_mm: f64, front_left: bool) -> [Parted; 2] {
        let middle = c.from.midpoint(c.to);
        let end = Some(name.to_owned());
        // Nearer the picture's left or top, and the other.
        let (mut low, mut high) = (self.clone(), self);
        if c.upright {
            (low.trimmed.x1, high.trimmed.x0) = (middle, middle);
            low.film.x1 = (c.to + turn_in_mm).min(low.film.x1);
            high.film.x0 = (c.from - turn_in_mm).max(high.film.x0);
            let (of_low, of_high) = if front_left {
                (REAR, FRONT)
            } else {
                (FRONT, REAR)
            };
            low.ends[of_low] = end.clone();
            high.ends[of_high] = end;
        } else {
            (low.trimmed.y1, high.trimmed.y0) = (middle, middle);
            low.film.y1 = (c.to + turn_in_mm).min(low.film.y1);
            high.film.y0 = (c.from - turn_in_mm).max(high.film.y0);
            low.ends[FOOT] = end.clone();
            high.ends[TOP] = end;
        }
        [low, high]
    }
}

/// How a gap crosses a rectangle of film.
struct Crossed {
    upright: bool,
    /// Its extent the other way, mm: a slanted or bent gap has some.
    from: f64,
    to: f64,
}

/// How a gap crosses film from edge to edge, leaving enough of it on both sides; nothing where it does not.
fn crossed(line: &MeasuredLine, film: Rect, planned: &PlannedPiece) -> Option<Crossed> {
    let to_film = planned.placed.to_picture.inverse();
    let mut met: Option<Rect> = None;
    for w in line.points.windows(2) {
        let Some((a, b)) = segment_within(film, to_film * w[0], to_film * w[1]) else {
            continue;
        };
        let r = Rect::from_points(a, b);
        met = Some(met.map_or(r, |all| all.union(r)));
    }
    let met = met?;
    let upright = met.height() >= ACROSS * film.height();
    if upright {
        let room = met.x0 - film.x0 >= NARROWEST_MM && film.x1 - met.x1 >= NARROWEST_MM;
        return room.then_some(Crossed {
            upright,
            from: met.x0,
            to: met.x1,
        });
    }
    let room = met.y0 - film.y0 >= NARROWEST_MM && film.y1 - met.y1 >= NARROWEST_MM;
    (room && met.width() >= ACROSS * film.width()).then_some(Crossed {
        upright,
        from: met.y0,
        to: met.y1,
    })
}
