//! Where film stretches: every recess, curve, hollow, crease and rivet head under a piece, how far film gives there, and how it is brought in.
//!
//! Two figures of a film decide: *aim under*, past which a place must be heated and a print may whiten, and *never past*, from its own sheet. Film
//! gives where it is warm and not pressed. How wide a band is warmed, and whether the band or the bridge is, is the shop's (two schools, common
//! practice, no source). Even stretch is assumed over what gives; at a corner that is shut in it stretches both ways at once.

pub mod stretch;

use kurbo::Rect;
use serde::{Deserialize, Serialize};

use crate::film::classes::FilmFigures;
use crate::floor::forming::stretch::{Cap, RecessShape, arc_mm};
use crate::ground::outline::{Shape, bounds_of_shapes, overlap};
use crate::ground::settings::{FormingSchool, WorkSettings};
use crate::ground::tape::{Length, Unit, print};
use crate::place::landing::{HeadState, LineState};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{Details, FeatureKind, OpenSide};
use crate::vehicle::measured::{Area, MeasuredSide};
use crate::vehicle::side::words::Ends;

/// Where a film's sheet does not say what it must never be stretched past, no more than this is planned (ours).
pub const OURS_NEVER_PAST: f64 = 0.30;
/// A round head rises by this share of its width, where nobody has measured it (ours).
const HEAD_RISES: f64 = 0.25;
/// Less of a place under film than this is not met, mm² (ours).
const LEAST_MM2: f64 = 100.0;
/// A place that is larger than this both ways is made in two pieces rather than inlaid, mm (ours).
const INLAY_MM: f64 = 300.0;

/// How film is brought into a place. Worst last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Forming {
    /// Pressed as it is.
    Press,
    /// Slack is fed from an open side.
    Feed,
    /// Warm film round it gives.
    Warm,
    /// The same, past what the film is kept under: it must reach its temperature afterwards.
    WarmAndHeat,
    /// A relief cut lets it in.
    ReliefCut,
    /// A piece of its own is laid in.
    Inlay,
    /// Two pieces that lap.
    TwoPieces,
    /// Not with this film.
    NotOnThis,
}

/// A place where film stretches.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormingPlace {
    /// What it is called on this side: `recess 2`.
    pub name: String,
    /// What it is.
    pub kind: FeatureKind,
    /// Its place in the order of work, from 1: deepest first, flats last.
    pub number: u32,
    /// How.
    pub forming: Forming,
    /// How, in one line.
    pub line: String,
    /// Stretch one way where it is pushed straight in, a share.
    pub straight: Option<f64>,
    /// Stretch one way with the band warm.
    pub warmed: Option<f64>,
    /// Stretch both ways at once, with the band warm: in a corner that is shut in, over a dome or a head.
    pub both_ways: Option<f64>,
    /// Film along what it lies on.
    pub developed: Option<Length>,
    /// How wide a band is warmed.
    pub band: Option<Length>,
    /// What is assumed, and the figures behind the line, in sentences.
    pub why: Vec<String>,
    /// Length of what must reach the film's temperature once it lies; nothing where nothing must.
    pub must_reach: Option<Length>,
    /// Outlines in the picture frame, mm.
    pub outlines: Vec<Vec<[f64; 2]>>,
}

/// Where a piece stretches.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretches {
    /// Places in the order in which they are worked.
    pub places: Vec<FormingPlace>,
    /// Kept under this one way, a share.
    pub aim: f64,
    /// Kept under this both ways at once.
    pub aim_both_ways: f64,
    /// Never past this.
    pub never_past: f64,
    /// Whether that is the film's own sheet's.
    pub never_from_sheet: bool,
    /// What is done before and in which order, in sentences.
    pub says: Vec<String>,
}

/// How a piece is formed.
#[derive(Debug, Clone, Copy)]
pub struct FormingAsk<'a> {
    /// Figures of its film.
    pub film: &'a FilmFigures,
    /// What the film's own sheet says that it must never be stretched past.
    pub never_past: Option<f64>,
    /// Band or bridge.
    pub school: FormingSchool,
    /// How wide a band the shop warms, mm.
    pub band_mm: f64,
    /// What the ends of the side's tape are called.
    pub ends: Ends,
    /// The job's unit.
    pub unit: Unit,
}

impl FormingAsk<'_> {
    fn never(&self) -> f64 {
        // Over-stretched layers part or darken for good: there is nothing to go past.
        let ours = if self.film.layered_reflective {
            self.film.stretch
        } else {
            OURS_NEVER_PAST.max(self.film.stretch)
        };
        self.never_past.unwrap_or(ours).max(self.film.stretch)
    }

    fn text(&self, mm: f64) -> String {
        print(mm, self.unit).text
    }

    fn heat(&self) -> String {
        let span = self.film.post_heat.map(|s| {
            let told = |c: f64| match self.unit {
                Unit::Millimetre => format!("{c:.0}"),
                _ => format!("{:.0}", c * 1.8 + 32.0),
            };
            let unit = match self.unit {
                Unit::Millimetre => "\u{b0}C",
                _ => "\u{b0}F",
            };
            format!("{} to {} {unit}", told(s.from), told(s.to))
        });
        span.unwrap_or_else(|| "what its sheet asks".into())
    }

    fn open(&self, open: OpenSide) -> Option<String> {
        let Ends([zero, far]) = self.ends;
        match open {
            OpenSide::Enclosed => None,
            OpenSide::Top => Some("the top".into()),
            OpenSide::Foot => Some("the foot".into()),
            OpenSide::Front => Some(format!("the {zero}")),
            OpenSide::Rear => Some(format!("the {far}")),
        }
    }
}

/// Every place under a piece where its film stretches.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::forming::{Forming, FormingAsk, stretches};
/// # use windrift_core::ground::{settings::{FormingSchool, WorkSettings}, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::{Ends, SideKind}, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let film = planned.piece.film().figures();
/// let ask = FormingAsk { film: &film, never_past: None, school: FormingSchool::Band, band_mm: 50.8, ends: Ends(["front", "rear"]), unit: Unit::Millimetre };
/// // On a bare flat side nothing stretches.
/// assert!(stretches(&planned, &measured, &ask).places.is_empty());
/// ```
pub fn stretches(planned: &PlannedPiece, side: &MeasuredSide, ask: &FormingAsk<'_>) -> Stretches {
    let film: Vec<Shape> = planned.film().collect();
    let reach = bounds_of_shapes(&film);
    let mut places: Vec<(f64, FormingPlace)> = Vec::new();
    for area in &side.areas {
        if !area.outline.bounds.overlaps(reach) {
            continue;
        }
        let (mut met, mut bridged) = (false, false);
        for shape in &film {
            let under = overlap(
                std::slice::from_ref(shape),
                std::slice::from_ref(&area.outline),
            );
            let mm2: f64 = under.iter().map(|s| s.area().abs()).sum();
            met |= mm2 >= LEAST_MM2;
            bridged |= mm2 >= LEAST_MM2 && mm2 < shape.area().abs() - LEAST_MM2;
        }
        if !met {
            continue;
        }
        let found = match area.details {
            Some(Details::Recess { depth_mm, .. }) if !bridged => Some((
                depth_mm.mm(),
                place(
                    area,
                    Forming::Press,
                    "All of it that lies there lies inside: nothing is bridged.".into(),
                    Vec::new(),
                ),
            )),
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                open,
            }) => Some((
                depth_mm.mm(),
                recess(area, (depth_mm.mm(), wall_degrees, open), reach, ask),
            )),
            Some(Details::Curve { compound, rise_mm }) => {
                Some((rise_mm.mm(), curve(area, compound, rise_mm.mm(), ask)))
            }
            Some(Details::Hollow { depth_mm }) => {
                Some((depth_mm.mm(), hollow(area, depth_mm.mm(), ask)))
            }
            _ => None,
        };
        places.extend(found);
    }
    places.extend(heads(planned, ask).into_iter().map(|p| (-1.0, p)));
    places.extend(folds(planned, ask).into_iter().map(|p| (-2.0, p)));
    // Deepest first, then shallower ones, heads and folds; the flat is last in any case.
    places.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut places: Vec<FormingPlace> = places.into_iter().map(|(_, p)| p).collect();
    for (n, place) in (1..).zip(&mut places) {
        place.number = n;
    }
    Stretches {
        says: says(&places, ask),
        aim: ask.film.stretch,
        aim_both_ways: ask.film.two_way_stretch,
        never_past: ask.never(),
        never_from_sheet: ask.never_past.is_some(),
        places,
    }
}

/// The same with the film that is chosen for the piece, as the shop works.
pub fn stretches_as_settled(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Stretches {
    let film = planned.piece.film_figures();
    let chosen = planned.piece.work.chosen.as_ref();
    let ask = FormingAsk {
        film: &film,
        never_past: chosen.and_then(|c| c.film.sheet.stretch_most),
        school: settings.forming,
        band_mm: settings.warm_band_mm.mm(),
        ends: side.side.ends(settings.side_words),
        unit,
    };
    stretches(planned, side, &ask)
}

impl Stretches {
    /// What is done at places before and while the film comes down, deepest first; nothing of what is only pressed, nor of heads, which are told by
    /// themselves.
    pub fn before(&self) -> Vec<String> {
        let told = self
            .places
            .iter()
            .filter(|p| p.kind != FeatureKind::Rivets && p.forming != Forming::Press);
        told.map(|p| format!("{}: {}", p.name, p.line)).collect()
    }

    /// What must reach the film's temperature once it lies.
    pub fn once_it_lies(&self) -> Option<String> {
        let reach = self.places.iter().filter_map(|p| {
            let long = p.must_reach.as_ref()?;
            Some(format!("{} ({} round it)", p.name, long.text))
        });
        let all: Vec<String> = reach.collect();
        (!all.is_empty()).then(|| format!("Must reach its temperature: {}.", all.join(", ")))
    }
}

fn percent(share: f64) -> String {
    format!("{:.0} %", share * 100.0)
}

fn says(places: &[FormingPlace], ask: &FormingAsk<'_>) -> Vec<String> {
    let mut says = Vec::new();
    let formed = |p: &&FormingPlace| {
        p.kind != FeatureKind::Rivets
            && matches!(
                p.forming,
                Forming::Feed | Forming::Warm | Forming::WarmAndHeat
            )
    };
    if places.iter().filter(formed).count() > 0 {
        says.push("Deepest first, flats last; each is finished before the next, and air always has a way out.".into());
        says.push(match ask.school {
            FormingSchool::Band => format!(
                "The band is warmed, {} back from the rim, and the film is pushed in: what ends up inside is hardly stretched.",
                ask.text(ask.band_mm)
            ),
            FormingSchool::Bridge => "The bridged film itself is warmed until it puckers and smooths, then set down: the flat inside first, just enough to hold it.".into(),
        });
    }
    if places
        .iter()
        .any(|p| p.kind == FeatureKind::Recess && formed(&p))
    {
        says.push("At a recess that is shut in, a strip of packing tape stays under the film at its rim until the end: hot air leaves along it.".into());
    }
    if places.iter().any(|p| p.must_reach.is_some()) {
        says.push(format!(
            "What is stretched past the aim or lies in a recess must reach {} once it lies: it is the first to come out where it did not.",
            ask.heat()
        ));
    }
    says
}

fn outlines(area: &Area) -> Vec<Vec<[f64; 2]>> {
    let contours = area.outline.contours.iter();
    contours
        .map(|c| c.iter().map(|p| [p.x, p.y]).collect())
        .collect()
}

fn place(area: &Area, forming: Forming, line: String, why: Vec<String>) -> FormingPlace {
    FormingPlace {
        name: area.name.clone(),
        kind: area.kind,
        number: 0,
        forming,
        line,
        straight: None,
        warmed: None,
        both_ways: None,
        developed: None,
        band: None,
        why,
        must_reach: None,
        outlines: outlines(area),
    }
}

/// What is done where film may not be stretched so far.
fn otherwise(area: &Area, ask: &FormingAsk<'_>) -> (Forming, String) {
    let b = area.outline.bounds;
    if ask.film.layered_reflective {
        return (
            Forming::ReliefCut,
            "Relief cut, shut in: poke a hole inside and cut on the far side of it, or run it in a J into the waste, so that it does not run into the film.".into(),
        );
    }
    if b.width().min(b.height()) > INLAY_MM {
        let lap = ask.film.lap_mm.map(|l| ask.text(l.to));
        return (
            Forming::TwoPieces,
            format!(
                "Two pieces: one inside, one outside, the lap{} on the flat beside its rim.",
                lap.map(|l| format!(" of {l}")).unwrap_or_default()
            ),
        );
    }
    (
        Forming::Inlay,
        "Inlay: a piece of its own for the inside, laid first; the film outside is cut at the rim."
            .into(),
    )
}

fn recess(
    area: &Area,
    (depth_mm, wall_degrees, open): (f64, f64, OpenSide),
    reach: Rect,
    ask: &FormingAsk<'_>,
) -> FormingPlace {
    let b = area.outline.bounds;
    let (mouth, long) = (b.width().min(b.height()), b.width().max(b.height()));
    let shape = match RecessShape::new(mouth, depth_mm, wall_degrees) {
        Ok(shape) => shape,
        Err(error) => {
            return place(
                area,
                Forming::NotOnThis,
                format!("{} cannot be as it is measured: {error}.", area.name),
                Vec::new(),
            );
        }
    };
    // No more film gives than there is between the rim and the film's edge.
    let room = [
        b.x0 - reach.x0,
        reach.x1 - b.x1,
        b.y0 - reach.y0,
        reach.y1 - b.y1,
    ]
    .into_iter()
    .filter(|mm| *mm > 0.0)
    .fold(f64::INFINITY, f64::min);
    let band = ask.band_mm.min(room);
    let (aim, aim_both, never) = (ask.film.stretch, ask.film.two_way_stretch, ask.never());
    let straight = shape.stretch(0.0);
    let (warmed, corner) = (shape.stretch(band), shape.corner_stretch(band));
    let mut why = vec![format!(
        "{} of film go down, across and up over a mouth of {}: {} where it is pushed straight in.",
        ask.text(shape.developed_mm()),
        ask.text(mouth),
        percent(straight)
    )];
    let shut_in = ask.open(open).is_none();
    if shut_in {
        why.push(format!(
            "With {} warm on each side {} one way, and {} both ways at once in its corners; this film is kept under {} and {}.",
            ask.text(band),
            percent(warmed),
            percent(corner),
            percent(aim),
            percent(aim_both)
        ));
        if warmed > aim && ask.film.printable {
            why.push(format!("Past {} a print may whiten.", percent(aim)));
        }
        if let Some(needed) = shape.band_mm(aim).filter(|mm| *mm > band) {
            why.push(format!(
                "{} on each side would keep it under {}.",
                ask.text(needed),
                percent(aim)
            ));
        }
    }
    let rim = 2.0 * (mouth + long);
    let within_aim = warmed <= aim && corner <= aim_both;
    let (forming, line) = if ask.film.stretch <= 0.0 {
        (
            Forming::NotOnThis,
            format!(
                "{} does not stretch: leave it out, or cut round it at the rim.",
                ask.film.name
            ),
        )
    } else if let Some(from) = ask.open(open) {
        (
            Forming::Feed,
            format!(
                "Feed {} of slack in from {from}, without tension; the closed wall first.",
                ask.text(shape.slack_mm())
            ),
        )
    } else if straight <= aim && shape.corner_stretch(0.0) <= aim_both {
        (Forming::Press, "Press it in as it is.".into())
    } else if within_aim {
        (Forming::Warm, warm_line(ask, band))
    } else if warmed <= never && corner <= never {
        (
            Forming::WarmAndHeat,
            format!(
                "{} It goes past the aim: it must reach {} once it lies.",
                warm_line(ask, band),
                ask.heat()
            ),
        )
    } else {
        otherwise(area, ask)
    };
    let formed = !matches!(
        forming,
        Forming::NotOnThis | Forming::ReliefCut | Forming::Inlay | Forming::TwoPieces
    );
    let shown = |share: f64| (shut_in && formed).then_some(share);
    FormingPlace {
        straight: Some(straight),
        warmed: shown(warmed),
        both_ways: shown(corner),
        developed: Some(print(shape.developed_mm(), ask.unit)),
        band: (matches!(forming, Forming::Warm | Forming::WarmAndHeat))
            .then(|| print(band, ask.unit)),
        must_reach: formed.then(|| print(rim, ask.unit)),
        ..place(area, forming, line, why)
    }
}

fn warm_line(ask: &FormingAsk<'_>, band_mm: f64) -> String {
    match ask.school {
        FormingSchool::Band => format!(
            "Warm {} all round its rim, then push it in.",
            ask.text(band_mm)
        ),
        FormingSchool::Bridge => format!(
            "Bridge it, warm the bridge and {} round it, set the flat inside, then the deepest line.",
            ask.text(band_mm)
        ),
    }
}

/// A dome or a hollow, as a cap over the shorter way across it.
fn capped(area: &Area, height_mm: f64, ask: &FormingAsk<'_>, inwards: bool) -> FormingPlace {
    let b = area.outline.bounds;
    let cap = Cap {
        radius_mm: b.width().min(b.height()) / 2.0,
        height_mm,
    };
    let (bare, over_top) = (cap.stretch(0.0), cap.along_arc());
    let warmed = cap.stretch(ask.band_mm);
    let (aim, never) = (ask.film.two_way_stretch, ask.never());
    let mut why = vec![
        format!(
            "As a cap {} across and {}: at least {} both ways at once, {} along an arc over its middle; this film is kept under {}.",
            ask.text(2.0 * cap.radius_mm),
            ask.text(height_mm),
            percent(bare),
            percent(over_top),
            percent(aim)
        ),
        "Taken as a piece of a ball over the shorter way across; the mean is the least that there can be.".into(),
    ];
    let (forming, line) = if ask.film.stretch <= 0.0 {
        (
            Forming::NotOnThis,
            format!("{} does not bend two ways: keep off it.", ask.film.name),
        )
    } else if bare.max(over_top) <= aim {
        (Forming::Press, pressed(inwards).to_owned())
    } else if warmed <= aim {
        (
            Forming::Warm,
            format!(
                "Warm it and {} round it, then lay it over.",
                ask.text(ask.band_mm)
            ),
        )
    } else if over_top <= never {
        (
            Forming::WarmAndHeat,
            format!(
                "Warm it and {} round it and lay it over; it must reach {} once it lies.",
                ask.text(ask.band_mm),
                ask.heat()
            ),
        )
    } else {
        let pieces = if over_top <= 2.0 * never { 2 } else { 3 };
        why.push(format!(
            "Its surface is {} more than the flat under it.",
            percent(cap.area_stretch())
        ));
        (
            Forming::TwoPieces,
            format!(
                "{pieces} pieces: the one at the back first, it relieves the stretch of the front."
            ),
        )
    };
    let reach = (inwards || forming == Forming::WarmAndHeat)
        && !matches!(forming, Forming::NotOnThis | Forming::TwoPieces);
    FormingPlace {
        both_ways: Some(over_top.max(bare)),
        must_reach: reach.then(|| {
            // Round its rim once.
            print(2.0 * (b.width() + b.height()), ask.unit)
        }),
        ..place(area, forming, line, why)
    }
}

fn pressed(inwards: bool) -> &'static str {
    if inwards {
        "Press its middle first, then outwards: bridged, it pulls out."
    } else {
        "Press it from its middle outwards."
    }
}

fn curve(area: &Area, compound: bool, rise_mm: f64, ask: &FormingAsk<'_>) -> FormingPlace {
    if compound {
        return capped(area, rise_mm, ask, false);
    }
    let b = area.outline.bounds;
    let chord = b.width().min(b.height());
    let developed = arc_mm(chord, rise_mm);
    FormingPlace {
        developed: Some(print(developed, ask.unit)),
        straight: Some(0.0),
        ..place(
            area,
            Forming::Press,
            format!(
                "It bends one way: film lies on it without stretch, {} longer than the flat picture shows.",
                ask.text(developed - chord)
            ),
            Vec::new(),
        )
    }
}

fn hollow(area: &Area, depth_mm: f64, ask: &FormingAsk<'_>) -> FormingPlace {
    capped(area, depth_mm, ask, true)
}

/// Heads under film, those of one width together.
fn heads(planned: &PlannedPiece, ask: &FormingAsk<'_>) -> Vec<FormingPlace> {
    let mut widths: Vec<(f64, u32)> = Vec::new();
    for column in &planned.landing.columns {
        let covered = column.heads.iter().filter(|h| h.state != HeadState::Clear);
        let count = covered.count() as u32;
        match widths
            .iter_mut()
            .find(|(w, _)| (w - column.head_mm).abs() < 0.5)
        {
            _ if count == 0 => {}
            Some((_, n)) => *n += count,
            None => widths.push((column.head_mm, count)),
        }
    }
    widths
        .into_iter()
        .map(|(wide, count)| {
            let cap = Cap {
                radius_mm: wide / 2.0,
                height_mm: wide * HEAD_RISES,
            };
            let (bare, aim) = (cap.stretch(0.0), ask.film.two_way_stretch);
            let ring = cap.ring_mm(aim);
            let (forming, line) = if ask.film.stretch <= 0.0 {
                (Forming::NotOnThis, "Punch or cut round each head: this film does not form over it.".to_owned())
            } else if bare <= aim {
                (Forming::Press, "Each is pressed down as it is.".into())
            } else {
                let round = ring.map(|mm| ask.text(mm)).unwrap_or_default();
                (
                    Forming::Warm,
                    format!("Leave {round} round the middle of each unpressed, prick, a short burst of heat, never above 200 \u{b0}F (93 \u{b0}C), and work it down."),
                )
            };
            FormingPlace {
                name: match count {
                    1 => format!("a head {} across", ask.text(wide)),
                    n => format!("{n} heads {} across", ask.text(wide)),
                },
                kind: FeatureKind::Rivets,
                number: 0,
                forming,
                line,
                straight: None,
                warmed: None,
                both_ways: Some(cap.along_arc().max(bare)),
                developed: None,
                band: None,
                why: vec![format!(
                    "Taken to rise by a quarter of its width (ours): {} both ways at once on average, {} over its top; this film is kept under {}.",
                    percent(bare),
                    percent(cap.along_arc()),
                    percent(aim)
                )],
                must_reach: None,
                outlines: Vec::new(),
            }
        })
        .collect()
}

/// Creases and body lines that film goes across: their depth is not measured, film is folded at them.
fn folds(planned: &PlannedPiece, ask: &FormingAsk<'_>) -> Vec<FormingPlace> {
    let lines = planned.landing.lines.iter();
    lines
        .filter(|l| matches!(l.kind, FeatureKind::Crease | FeatureKind::BodyLine))
        .filter(|l| l.state != LineState::Clear)
        .map(|l| FormingPlace {
            name: l.name.clone(),
            kind: l.kind,
            number: 0,
            forming: Forming::Press,
            line: if ask.film.layered_reflective {
                "Fold it at the line; no corner is wrapped over.".into()
            } else {
                "Set it into the line first, then press away from it on both sides.".into()
            },
            straight: None,
            warmed: None,
            both_ways: None,
            developed: None,
            band: None,
            why: vec!["How deep it is has not been measured: a fold stretches nothing.".into()],
            must_reach: None,
            outlines: Vec::new(),
        })
        .collect()
}
