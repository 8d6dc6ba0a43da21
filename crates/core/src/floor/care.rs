//! What the owner may do with a vehicle that was lettered, and when: dates in the shop's own time, from when film was really pressed and from its own sheet.
//!
//! Common practice, no source: a day (72 hours for slow adhesives) at room temperature until it holds; the first wash after three days; no high pressure at edges; no polish
//! where the sheet is silent or forbids it; film comes off inside its life, and lying film lives far shorter than upright film. A boat's 72 hours before water, and
//! the lowest warmth at which adhesives of most classes take hold, are Windrift's own.

use serde::{Deserialize, Serialize};
use time::{Date, Duration, Month, OffsetDateTime};

use crate::film::classes::{FilmClass, FilmFigures};
use crate::floor::prep::warm::AirAt;
use crate::ground::climate::Climate;
use crate::ground::degrees::told;
use crate::ground::tape::Unit;
use crate::ground::zone::Zone;

/// A piece of film as it was pressed.
#[derive(Debug, Clone, PartialEq)]
pub struct Pressed {
    /// What it is called.
    pub called: String,
    /// When it lay.
    pub at: OffsetDateTime,
    /// Its film.
    pub film: FilmFigures,
    /// Whether it lies on a hood, a roof or a deck.
    pub lies: bool,
    /// Years lying, by its own sheet.
    pub lying_years: Option<f64>,
    /// Where the vehicle stands.
    pub climate: Climate,
    /// Weeks until it is polished by its own sheet; 0 where that forbids it.
    pub polish_after_weeks: Option<f64>,
}

/// What a date is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CareWhat {
    /// Out of the hall, into cold or rain.
    Out,
    /// The adhesive holds fully.
    Holds,
    /// A boat goes into the water.
    Water,
    /// First wash.
    Wash,
    /// Pressure washer.
    Pressure,
    /// Polish.
    Polish,
    /// Film comes off.
    RemoveBy,
}

impl CareWhat {
    /// What it is called on paper and in a calendar.
    pub fn title(self) -> &'static str {
        match self {
            CareWhat::Out => "Out of the warm hall",
            CareWhat::Holds => "The film holds fully",
            CareWhat::Water => "Into the water",
            CareWhat::Wash => "First wash",
            CareWhat::Pressure => "Pressure washer",
            CareWhat::Polish => "First polish",
            CareWhat::RemoveBy => "Film comes off by",
        }
    }
}

/// A date for the owner.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CareDate {
    /// What it is about.
    pub what: CareWhat,
    /// What that is called.
    pub title: &'static str,
    /// From when, or by when; nothing where it must never be, or no figure is at hand.
    #[serde(with = "time::serde::rfc3339::option")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub at: Option<OffsetDateTime>,
    /// Whether the day is meant rather than the hour.
    pub whole_day: bool,
    /// When, in words.
    pub when: String,
    /// What to do or leave, in the owner's words.
    pub says: String,
    /// Why it is that date.
    pub why: String,
}

/// Film stays in the hall for so long where it is colder outside than `COLD`, and warmer than `WARM` there (common practice).
const HALL: Duration = Duration::hours(24);
const COLD: f64 = 15.0;
const WARM: f64 = 20.0;
/// A boat waits for so long (ours).
const WATER: Duration = Duration::hours(72);
/// Air that was read holds for so long after; then nobody knows.
const READ_HOLDS: Duration = Duration::hours(1);

/// At how many degrees an adhesive takes hold, °C: the reflective ones as commonly told, the others ours.
pub fn takes_hold_above(class: FilmClass) -> f64 {
    match class {
        FilmClass::EngineerReflective => 10.0,
        FilmClass::RemovableReflective | FilmClass::PermanentReflective => (55.0 - 32.0) / 1.8,
        _ => COLD,
    }
}

/// When adhesive has had its hours above what it asks for, counted by air that was read; and whether some of them are not known.
fn holds_at(pressed: &Pressed, air: &[AirAt]) -> (OffsetDateTime, bool) {
    let threshold = takes_hold_above(pressed.film.class);
    let mut left = Duration::seconds_f64(pressed.film.sets_hours * 3600.0);
    let mut now = pressed.at;
    // Hours that nobody read are taken as warm, and that is said.
    let mut unsure = false;
    for (n, read) in air.iter().enumerate() {
        let silent = read.at + READ_HOLDS;
        let until = (air.get(n + 1)).map_or(silent, |next| next.at.min(silent));
        if until <= now {
            continue;
        }
        let from = read.at.max(now);
        if from > now {
            unsure = true;
            if from - now >= left {
                return (now + left, true);
            }
            left -= from - now;
        }
        if read.celsius >= threshold {
            if until - from >= left {
                return (from + left, unsure);
            }
            left -= until - from;
        }
        now = until;
    }
    (now + left, true)
}

/// A day some years later; 29 February becomes the 28th where there is none.
fn years_later(day: Date, years: f64) -> Date {
    let months = (years * 12.0).floor() as i32;
    let all = day.year() * 12 + i32::from(u8::from(day.month())) - 1 + months;
    let month = Month::try_from((all.rem_euclid(12) + 1) as u8).unwrap_or(day.month());
    let year = all.div_euclid(12);
    (1..=day.day())
        .rev()
        .find_map(|d| Date::from_calendar_date(year, month, d).ok())
        .unwrap_or(day)
}

/// A day at the middle of the day by a shop's clock, so that it is that day in every neighbouring zone.
fn noon(day: Date, zone: Zone) -> Option<OffsetDateTime> {
    zone.at_wall_clock(&format!(
        "{:04}-{:02}-{:02}T12:00",
        day.year(),
        u8::from(day.month()),
        day.day()
    ))
}

fn in_days(day: Date) -> String {
    let words = time::macros::format_description!("[day padding:none] [month repr:short] [year]");
    day.format(words).unwrap_or_default()
}

/// Dates for the owner, in the order in which they come; none while nothing lies.
///
/// ```
/// # use time::macros::datetime;
/// # use windrift_core::film::classes::FilmClass;
/// # use windrift_core::floor::care::{CareWhat, Pressed, care};
/// # use windrift_core::ground::{tape::Unit, zone::Zone};
/// let print = Pressed { called: "side".into(), at: datetime!(2026-11-27 15:00 UTC), film: FilmClass::CastPrint.figures(),
///     lies: false, lying_years: None, climate: Default::default(), polish_after_weeks: None };
/// let dates = care(&[print], &[], false, Zone::UTC, Unit::InchSixteenth);
/// let of = |what| dates.iter().find(|d| d.what == what).unwrap();
/// assert_eq!(of(CareWhat::Wash).when, "30 Nov 2026 15:00");
/// assert!(of(CareWhat::Holds).says.contains("if it is kept above"));
/// assert_eq!(of(CareWhat::RemoveBy).when, "27 Nov 2031");
/// ```
pub fn care(
    pressed: &[Pressed],
    air: &[AirAt],
    boat: bool,
    zone: Zone,
    unit: Unit,
) -> Vec<CareDate> {
    let Some(last) = pressed.iter().map(|p| p.at).max() else {
        return Vec::new();
    };
    let mut dates = Vec::new();
    let mut tell =
        |what: CareWhat, at: Option<OffsetDateTime>, when: String, says: String, why: String| {
            dates.push(CareDate {
                what,
                title: what.title(),
                at,
                whole_day: what == CareWhat::RemoveBy,
                when,
                says,
                why,
            });
        };
    let words = |at: OffsetDateTime| zone.in_words(at);
    let out = last + HALL;
    tell(
        CareWhat::Out,
        Some(out),
        words(out),
        format!(
            "Where it is colder outside than {}, keep it inside above {} until then. Rain and frost wait as well.",
            told(COLD, unit),
            told(WARM, unit)
        ),
        format!("24 hours after the last film was pressed, {}.", words(last)),
    );
    let held = pressed.iter().map(|p| (holds_at(p, air), p));
    if let Some(((at, unsure), slowest)) = held.max_by_key(|(h, _)| h.0) {
        let above = told(takes_hold_above(slowest.film.class), unit);
        tell(
            CareWhat::Holds,
            Some(at),
            words(at),
            if unsure {
                format!(
                    "From then the film holds fully, if it is kept above {above} until then: colder hours do not count."
                )
            } else {
                "From then the film holds fully.".into()
            },
            format!(
                "\u{201c}{}\u{201d} asks for {:.0} hours above {above} after it was pressed.",
                slowest.called, slowest.film.sets_hours
            ),
        );
        if boat {
            let into = at.max(last + WATER);
            tell(
                CareWhat::Water,
                Some(into),
                words(into),
                "Not into the water before.".into(),
                "72 hours for film on a hull (Windrift\u{2019}s own), and not before it holds fully.".into(),
            );
        }
        let wash = pressed
            .iter()
            .map(|p| p.at + Duration::seconds_f64(p.film.first_wash_days * 86_400.0));
        if let Some(wash) = wash.max() {
            tell(
                CareWhat::Wash,
                Some(wash),
                words(wash),
                "By hand with a soft cloth, mild soap and much water. No solvent, nothing that scours.".into(),
                format!(
                    "{:.0} days after it was pressed, as the film asks.",
                    pressed.iter().map(|p| p.film.first_wash_days).fold(0.0, f64::max)
                ),
            );
            let pressure = wash.max(at);
            tell(
                CareWhat::Pressure,
                Some(pressure),
                words(pressure),
                "From the side of the surface only, never at an edge of the film, at any time.".into(),
                "Not before the first wash and before it holds fully; pressure lifts edges at any age.".into(),
            );
        }
    }
    polish(pressed, zone, &mut tell);
    remove_by(pressed, zone, &mut tell);
    dates.sort_by_key(|d| (d.at.is_none(), d.at));
    dates
}

/// Takes what a date is about, when it is, in words, what is to be done, and why.
type Tell<'t> = dyn FnMut(CareWhat, Option<OffsetDateTime>, String, String, String) + 't;

/// Polish: the film's own sheet decides. Where it is silent nothing is allowed and nothing forbidden on its account.
fn polish(pressed: &[Pressed], zone: Zone, tell: &mut Tell<'_>) {
    if let Some(never) = pressed.iter().find(|p| p.polish_after_weeks == Some(0.0)) {
        tell(
            CareWhat::Polish,
            None,
            "never".into(),
            "No polish and no wax on the film.".into(),
            format!(
                "The sheet of the film of \u{201c}{}\u{201d} forbids it.",
                never.called
            ),
        );
        return;
    }
    let weeks = |p: &Pressed| {
        p.polish_after_weeks
            .map(|w| p.at + Duration::seconds_f64(w * 7.0 * 86_400.0))
    };
    let all: Option<Vec<OffsetDateTime>> = pressed.iter().map(weeks).collect();
    match all.and_then(|all| all.into_iter().max()) {
        Some(at) => tell(
            CareWhat::Polish,
            Some(at),
            zone.in_words(at),
            "Not before. Two or three times in all lengthen its life where it lies.".into(),
            "By the films\u{2019} own sheets.".into(),
        ),
        None => tell(
            CareWhat::Polish,
            None,
            "ask first".into(),
            "Ask the shop before polish or wax touches the film.".into(),
            "The sheet of the film decides, and it is not at hand.".into(),
        ),
    }
}

/// Film comes off inside its life: the shortest of all pieces.
fn remove_by(pressed: &[Pressed], zone: Zone, tell: &mut Tell<'_>) {
    let life = |p: &Pressed| {
        let (years, how) = if p.lies {
            (p.lying_years, "lying")
        } else {
            (p.film.upright_years, "upright")
        };
        Some(p.climate.years(years?, how))
    };
    let unknown: Vec<&str> = pressed
        .iter()
        .filter(|p| life(p).is_none())
        .map(|p| p.called.as_str())
        .collect();
    let first = pressed
        .iter()
        .filter_map(|p| Some((years_later(zone.date(p.at), life(p)?.0), p)))
        .min_by_key(|(day, _)| *day);
    let but = match unknown.as_slice() {
        [] => String::new(),
        [one, rest @ ..] => format!(
            " No figure is at hand for \u{201c}{one}\u{201d}{}: ask for its sheet; film that lies lives far shorter than upright film.",
            match rest.len() {
                0 => String::new(),
                more => format!(" and {more} more"),
            }
        ),
    };
    match first {
        Some((day, p)) => tell(
            CareWhat::RemoveBy,
            noon(day, zone),
            in_days(day),
            format!(
                "Have it taken off by then, or by the end of the film\u{2019}s warranty where that comes first: older film comes off in chips.{but}"
            ),
            format!(
                "\u{201c}{}\u{201d} lasts {}, by its sheet or what is common for its class.",
                p.called,
                life(p).unwrap_or_default().1,
            ),
        ),
        None => tell(
            CareWhat::RemoveBy,
            None,
            "ask first".into(),
            format!("Have it taken off inside the film\u{2019}s life.{but}"),
            "The sheet of the film decides, and it is not at hand.".into(),
        ),
    }
}
