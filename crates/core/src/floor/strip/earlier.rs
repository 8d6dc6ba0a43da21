//! What an earlier job put on a vehicle, as the old film that comes off now.

use uuid::Uuid;

use crate::art::Art;
use crate::film::classes::FilmClass;
use crate::floor::strip::old::{ColdCorner, Faced, OldGraphic, OldKind};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::SideKind;

/// Longest name of an old graphic, characters.
const NAME: usize = 80;

/// A piece of an earlier job as old film on a side of this one: where its film lies by the tape, what it is by its film and art, and how old. What nobody recorded then
/// (how it faced the sun, how a corner behaves) is said by whoever stands before it.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::strip::{earlier::as_old, old::OldKind};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let print = PrintedPanel { name: "the old side".into(), width_mm: 2000.0.into(), height_mm: 900.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// // A print of 2000 by 900 mm, 300 back and 200 down, six and a half years ago.
/// let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 200.0));
/// # let planned = plan_piece(uuid::Uuid::from_u128(7), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let old = as_old(&planned, &measured, uuid::Uuid::from_u128(1), 6.5);
/// assert_eq!((old.kind, old.age_years, old.piece), (OldKind::Print, 6.5, Some(planned.id)));
/// assert!((old.back_mm.mm() - 300.0).abs() < 1e-6 && (old.width_mm.mm() - 2000.0).abs() < 1e-6);
/// ```
pub fn as_old(planned: &PlannedPiece, side: &MeasuredSide, on: Uuid, age_years: f64) -> OldGraphic {
    let read = |p: &kurbo::Point| side.datum.read_plumb(*p);
    let (mut back, mut down) = ((f64::MAX, f64::MIN), (f64::MAX, f64::MIN));
    for (b, d) in planned.placed.hull.iter().map(read) {
        back = (back.0.min(b), back.1.max(b));
        down = (down.0.min(d), down.1.max(d));
    }
    let figures = planned.piece.film_figures();
    let kind = match (figures.class, &planned.piece.art) {
        (FilmClass::ConspicuityStrip, _) => OldKind::PrismaticStrip,
        (FilmClass::ThickKit, _) => OldKind::ThickKit,
        (FilmClass::RemovableReflective, _) => OldKind::RemovableReflective,
        (FilmClass::PermanentReflective | FilmClass::EngineerReflective, _) => {
            OldKind::PermanentReflective
        }
        (_, Art::Panel(_)) => OldKind::Print,
        (_, Art::Stripe(_)) => OldKind::Stripe,
        (_, Art::Lettering(_) | Art::Drawing(_)) => OldKind::CutLettering,
    };
    let letters = match (&planned.piece.art, kind) {
        (Art::Lettering(l), OldKind::CutLettering) => {
            let n = l.words().chars().filter(|c| !c.is_whitespace()).count();
            (n > 0).then_some(n as u32)
        }
        _ => None,
    };
    OldGraphic {
        side: on,
        piece: Some(planned.id),
        name: planned.piece.called().chars().take(NAME).collect(),
        kind,
        age_years,
        faced: match side.side.kind {
            SideKind::Hood | SideKind::Roof | SideKind::Deck => Faced::Lying,
            _ => Faced::Shade,
        },
        under: None,
        lies_on: None,
        unknown_paint: false,
        cold_corner: ColdCorner::NotTried,
        back_mm: back.0.into(),
        drop_mm: down.0.into(),
        width_mm: (back.1 - back.0).into(),
        height_mm: (down.1 - down.0).into(),
        letters,
        own_minutes: None,
    }
}
