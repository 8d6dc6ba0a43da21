//! What is settled about the marking of a face, as it is said.

use crate::ground::said::{Said, Saying, capital, offered};
use crate::ground::tape::{Unit, print};
use crate::marking::face::Face;
use crate::marking::face_marking::{
    FaceMarking, FreeSpan, TractorPlace, TractorRear, UnderrideMember,
};
use crate::marking::laying::{GAP_LIMIT_MM, WayOfLaying};
use crate::marking::strip::Element;
use crate::vehicle::side::words::Ends;

/// What is needed to say it.
pub struct FaceWords<'a> {
    /// Which face.
    pub face: Face,
    /// Whether it is laid at intervals or wherever there is room: along a side, under rules that leave that open.
    pub ways: bool,
    /// What the tape is read from.
    pub rail: &'a str,
    /// What its ends are called.
    pub ends: Ends,
    /// The job's unit.
    pub unit: Unit,
}

/// Says how a face is marked: the whole first, then the underride member or the two places at a tractor's rear, where there are some.
/// Nothing is settled yet where there is no marking: only its fields are named.
///
/// ```
/// # use windrift_core::{ground::{said::plainly, tape::Unit}, marking::{Face, said::{FaceWords, said}}};
/// # use windrift_core::vehicle::side::words::Ends;
/// let words = FaceWords { face: Face::Side, ways: true, rail: "top rail", ends: Ends(["front", "rear"]), unit: Unit::InchSixteenth };
/// assert_eq!(
///     plainly(&said(None, &words)[0]),
///     "The top rail lies (not measured) above the ground at curb weight. Strips are laid at intervals, with 4' 0 (our own limit) between them at most. No strip is longer than two repeats of the pattern, and one repeat is laid beyond what the rule asks, to spare (both our own)."
/// );
/// ```
pub fn said(marking: Option<&FaceMarking>, words: &FaceWords<'_>) -> Vec<Vec<Said>> {
    let mut whole = Saying::new(words.unit);
    whole
        .words(&format!("The {} lies", words.rail))
        .length_or(
            "/ground_mm",
            marking.map(|m| m.ground_mm.mm()),
            format!("{} above the ground, at curb weight", capital(words.rail)),
            "(not measured)",
        )
        .words("above the ground at curb weight.");
    if words.face != Face::Rear && words.ways {
        let spaced = marking.is_none_or(|m| m.way == WayOfLaying::Spaced);
        whole
            .words("Strips are laid")
            .one_of(
                "/way",
                marking.map_or(WayOfLaying::Spaced, |m| m.way),
                "Laid",
                offered([
                    ("spaced", "at intervals"),
                    ("continuous", "wherever there is room"),
                ]),
            )
            .words(", with")
            .length_or(
                "/gap_limit_mm",
                marking.and_then(|m| m.gap_limit_mm).map(|mm| mm.mm()),
                "Largest gap wanted",
                &format!("{} (our own limit)", print(GAP_LIMIT_MM, words.unit).text),
            )
            .words(if marking.is_some_and(|m| m.gap_limit_mm.is_some()) {
                "between them at most: our own limit, no rule gives one."
            } else {
                "between them at most."
            });
        if spaced {
            whole
                .words("No strip is longer than")
                .length_or(
                    "/strip_mm",
                    marking.and_then(|m| m.strip_mm).map(|mm| mm.mm()),
                    "Longest strip",
                    "two repeats of the pattern",
                )
                .words(", and")
                .length_or(
                    "/spare_mm",
                    marking.and_then(|m| m.spare_mm).map(|mm| mm.mm()),
                    "To spare beyond what is asked",
                    "one repeat",
                )
                .words("is laid beyond what the rule asks, to spare (both our own).");
        }
    }
    let mut all = vec![whole.done()];
    if let Some(member) = marking.and_then(|m| m.underride.as_ref()) {
        all.push(underride(member, words.unit));
    }
    if let Some(rear) = marking.and_then(|m| m.tractor.as_ref()) {
        all.push(tractor(rear, words));
    }
    all
}

fn underride(member: &UnderrideMember, unit: Unit) -> Vec<Said> {
    let mut said = Saying::new(unit);
    said.words("The underride member runs from")
        .length(
            "/underride/from_mm",
            member.from_mm.mm(),
            "Begins along the rear",
        )
        .words("to")
        .length("/underride/to_mm", member.to_mm.mm(), "Ends")
        .words("along the rear, its lower edge")
        .length(
            "/underride/foot_mm",
            member.foot_mm.mm(),
            "Lower edge above the ground",
        )
        .words("and its upper edge")
        .length(
            "/underride/top_mm",
            member.top_mm.mm(),
            "Upper edge above the ground",
        )
        .words("above the ground. Its label stays readable from");
    let label = member.free_of.first();
    let end = |of: fn(&FreeSpan) -> f64| label.map(of);
    said.length_or(
        "/underride/free_of/0/from_mm",
        end(|l| l.from_mm.mm()),
        "Its label begins",
        "(no label)",
    )
    .words("to")
    .length_or(
        "/underride/free_of/0/to_mm",
        end(|l| l.to_mm.mm()),
        "Its label ends",
        "(no label)",
    )
    .words(".");
    said.done()
}

fn tractor(rear: &TractorRear, words: &FaceWords<'_>) -> Vec<Said> {
    let mut said = Saying::new(words.unit);
    said.words("The two strips go on").one_of(
        "/tractor/place",
        rear.place,
        "On",
        offered([
            ("fender", "the rear fenders"),
            ("mudflap", "the mudflaps"),
            ("bracket", "the mudflaps' brackets"),
            ("behind_axle", "brackets behind the rear axle (no flaps)"),
            (
                "ahead_of_axle",
                "brackets ahead of the rear axle (no flaps)",
            ),
            ("cab", "the back of the cab"),
        ]),
    );
    for (element, at, span) in [
        (Element::TractorZero, "zero", &rear.zero),
        (Element::TractorFar, "far", &rear.far),
    ] {
        let name = element.name(words.ends);
        said.words(&format!(", the {name} from"))
            .length(
                &format!("/tractor/{at}/from_mm"),
                span.from_mm.mm(),
                format!("{}: begins", capital(&name)),
            )
            .words("to")
            .length(
                &format!("/tractor/{at}/to_mm"),
                span.to_mm.mm(),
                format!("{}: ends", capital(&name)),
            );
    }
    said.words(", between")
        .length(
            "/tractor/foot_mm",
            rear.foot_mm.mm(),
            "Lower edge above the ground",
        )
        .words("and")
        .length(
            "/tractor/top_mm",
            rear.top_mm.mm(),
            "Upper edge above the ground",
        )
        .words("above the ground.");
    if rear.place == TractorPlace::Mudflap {
        said.words("The bracket's lower edge lies")
            .length_or(
                "/tractor/bracket_mm",
                rear.bracket_mm.map(|mm| mm.mm()),
                "Bracket's lower edge above the ground",
                "(not measured)",
            )
            .words("above the ground.");
    }
    if matches!(rear.place, TractorPlace::Cab | TractorPlace::AheadOfAxle) {
        said.words("The tyres' tops lie")
            .length_or(
                "/tractor/tyre_mm",
                rear.tyre_mm.map(|mm| mm.mm()),
                "Tyres' tops above the ground",
                "(not measured)",
            )
            .words("above the ground.");
    }
    said.done()
}
