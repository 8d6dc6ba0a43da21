//! Ready to fit? What must hold before film goes on, each thing in, near, out, or not known, and what is missing.
//!
//! Never a yes with something that nobody knows.

use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};

use super::dew::{DEW_MARGIN_CELSIUS, dew_point};
use super::open_air::{self, OpenAir, Sun};
pub use super::stands::Stands;
use crate::film::classes::Span;
use crate::ground::degrees::{apart, told};
use crate::ground::tape::Unit;

/// How a surface was measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ReadBy {
    /// An infrared thermometer on the surface itself.
    Infrared,
    /// A contact probe.
    Probe,
    /// An infrared thermometer on a patch of masking tape that was left on for 2 minutes.
    TapePatch,
}

impl ReadBy {
    /// Every way.
    pub const ALL: [ReadBy; 3] = [ReadBy::Infrared, ReadBy::Probe, ReadBy::TapePatch];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            ReadBy::Infrared => "infrared",
            ReadBy::Probe => "contact probe",
            ReadBy::TapePatch => "infrared on a tape patch",
        }
    }

    /// Error of one reading, one standard deviation, °C (ours).
    pub fn error(self) -> f64 {
        match self {
            ReadBy::Infrared => 0.7,
            ReadBy::Probe => 0.4,
            ReadBy::TapePatch => 0.7,
        }
    }
}

/// Where on a side a surface was measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PanelSpot {
    /// Anywhere that film goes.
    Field,
    /// Low down, where it is coldest.
    Low,
    /// Over a member of the frame.
    Member,
}

impl PanelSpot {
    /// Every one.
    pub const ALL: [PanelSpot; 3] = [PanelSpot::Field, PanelSpot::Low, PanelSpot::Member];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            PanelSpot::Field => "in the middle",
            PanelSpot::Low => "low down",
            PanelSpot::Member => "over a member",
        }
    }
}

/// A surface's temperature as it was read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SurfaceRead {
    /// Where.
    pub spot: PanelSpot,
    /// How.
    pub by: ReadBy,
    /// °C.
    pub celsius: f64,
    /// When.
    pub at: OffsetDateTime,
}

/// The bay's air as it was read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirRead {
    /// °C.
    pub celsius: f64,
    /// Relative humidity, percent.
    pub humidity: f64,
    /// When.
    pub at: OffsetDateTime,
}

/// One thing that must hold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GateLine {
    /// What: `panel`, `air`, `dew`, `acclimatised`, `paint`, `clean`, `coats`, `promoter`, `prints`, `hands`, `hardware`, `surface`;
    /// in the open `wind`, `rain` and `sun`.
    pub key: String,
    /// How it stands.
    pub stands: Stands,
    /// In a sentence, with what to do.
    pub says: String,
}

/// Whether film may go on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Gate {
    /// The worst of all lines.
    pub stands: Stands,
    /// All lines, the worst first.
    pub lines: Vec<GateLine>,
    /// No reason passes it: the surface itself says no.
    pub never: bool,
}

/// What the gate asks about.
#[derive(Debug, Clone)]
pub struct GateAsk<'a> {
    /// Temperatures at which every film of this side may be fitted, °C; nothing where two films share none.
    pub window: Option<Span>,
    /// Whose window it is.
    pub film: &'a str,
    /// Surface readings, the newest last: of each spot the newest counts.
    pub surface: &'a [SurfaceRead],
    /// The newest reading of the air.
    pub air: Option<AirRead>,
    /// Whether the surface is bright metal, on which an infrared thermometer shows the hall.
    pub bright_metal: bool,
    /// Since when the vehicle and the film stand in the hall.
    pub came_in: Option<OffsetDateTime>,
    /// The side stands in the open, and not in a hall.
    pub open_air: Option<OpenAir>,
    /// Paint that has not cured; whether its age is known.
    pub paint_fresh: bool,
    /// Steps of cleaning that are not ticked.
    pub unclean: &'a [String],
    /// What was put on and is not hard yet, each with until when.
    pub hardens: &'a [String],
    /// Runs of promoter that are not on yet.
    pub promoter_open: &'a [String],
    /// When the last promoter becomes tacky, where any is wet.
    pub promoter_until: Option<OffsetDateTime>,
    /// When prints have gassed out: nothing where nothing is printed; `Some(None)` where nobody said when it was printed.
    pub prints: Option<Option<OffsetDateTime>>,
    /// Hands washed, rings and watches off.
    pub hands: bool,
    /// Hardware that is to come off and is still on.
    pub still_on: &'a [String],
    /// What refuses film here, and whether no reason passes it.
    pub refuses: &'a [(String, bool)],
    /// The moment.
    pub now: OffsetDateTime,
    /// The tape's unit: degrees are told as its shop tells them.
    pub unit: Unit,
}

/// Readings older than this are measured again (ours).
const OLD: Duration = Duration::minutes(30);
/// In the sun a panel is another one after so long (ours).
const OLD_IN_THE_SUN: Duration = Duration::minutes(10);
/// Outside a window by less than this is near it, °C.
const NEAR_CELSIUS: f64 = 2.0;
/// Vehicle and film stand in the hall this long before (common practice, no source).
const ACCLIMATISE: Duration = Duration::hours(24);

/// For how long a reading of a surface counts.
pub fn reading_counts_for(open_air: Option<OpenAir>) -> Duration {
    let sun = open_air.and_then(|o| o.sun);
    let here = sun.is_some_and(|(sun, _)| sun == Sun::Here);
    if here { OLD_IN_THE_SUN } else { OLD }
}

/// Whether film may go on.
pub fn gate(ask: &GateAsk<'_>) -> Gate {
    let mut lines: Vec<GateLine> = Vec::new();
    let mut line = |key: &str, stands: Stands, says: String| {
        lines.push(GateLine {
            key: key.into(),
            stands,
            says,
        });
    };
    for (sentence, _) in ask.refuses {
        line("surface", Stands::Out, sentence.clone());
    }
    let coldest = panel(ask, &mut line);
    let air = ask.air.filter(|a| ask.now - a.at <= OLD);
    match (&air, ask.window) {
        (None, _) => line(
            "air",
            Stands::Unknown,
            "Read the air, temperature and humidity: nobody has in the last half hour.".into(),
        ),
        (Some(air), Some(window)) => {
            let stands = within(air.celsius, window);
            line(
                "air",
                stands,
                format!(
                    "Air {}, {} is fitted at {} to {}.",
                    told(air.celsius, ask.unit),
                    ask.film,
                    told(window.from, ask.unit),
                    told(window.to, ask.unit)
                ),
            );
        }
        (Some(_), None) => {}
    }
    if let Some(air) = &air {
        dew(ask, air, coldest, &mut line);
    }
    if let Some(open) = &ask.open_air {
        let is_old = |at| ask.now - at > OLD;
        open_air::lines(open, coldest, is_old, ask.unit, &mut line);
    }
    match ask.came_in {
        _ if ask.open_air.is_some() => line(
            "acclimatised",
            Stands::Near,
            "In the open nothing settles: keep the film in shade beside the vehicle until it is as warm, and read the panel again before each piece.".into(),
        ),
        None => line(
            "acclimatised",
            Stands::Unknown,
            "Say since when vehicle and film stand in the hall: 24 hours is usual.".into(),
        ),
        Some(since) if ask.now - since < ACCLIMATISE => {
            let hours = (ask.now - since).whole_hours();
            line(
                "acclimatised",
                Stands::Near,
                format!(
                    "In the hall for {hours} h; 24 hours is usual (common practice). Damp sits in gaps and behind lamps."
                ),
            );
        }
        Some(_) => line(
            "acclimatised",
            Stands::In,
            "24 hours in the hall or more.".into(),
        ),
    }
    if ask.paint_fresh {
        line(
            "paint",
            Stands::Out,
            "Paint that was sprayed again cures six weeks before film, and this has not, or nobody knows when it was sprayed.".into(),
        );
    }
    if ask.unclean.is_empty() {
        line("clean", Stands::In, "Clean, as it was ticked.".into());
    } else {
        line(
            "clean",
            Stands::Unknown,
            format!("Not ticked yet: {}.", ask.unclean.join(", ")),
        );
    }
    if !ask.hardens.is_empty() {
        line(
            "coats",
            Stands::Out,
            format!("Not hard yet: {}.", ask.hardens.join("; ")),
        );
    }
    if !ask.promoter_open.is_empty() {
        line(
            "promoter",
            Stands::Near,
            format!("Promoter is not on yet: {}.", ask.promoter_open.join(", ")),
        );
    } else if let Some(until) = ask.promoter_until.filter(|u| *u > ask.now) {
        let minutes = ((until - ask.now).whole_seconds() as f64 / 60.0).ceil();
        line(
            "promoter",
            Stands::Out,
            format!("Promoter is wet: tacky in {minutes:.0} min. Film never goes on wet promoter."),
        );
    }
    match ask.prints {
        None => {}
        Some(None) => line(
            "prints",
            Stands::Unknown,
            "Nobody said when the prints were printed: say so under Film, By when.".into(),
        ),
        Some(Some(until)) if until > ask.now => {
            let hours = ((until - ask.now).whole_minutes() as f64 / 60.0).ceil();
            line(
                "prints",
                Stands::Out,
                format!("Prints still gas out for {hours:.0} h."),
            );
        }
        Some(Some(_)) => line("prints", Stands::In, "Prints have gassed out.".into()),
    }
    if ask.hands {
        line(
            "hands",
            Stands::In,
            "Hands washed, rings and watches off.".into(),
        );
    } else {
        line(
            "hands",
            Stands::Unknown,
            "Wash hands; rings, watches and belt buckles off.".into(),
        );
    }
    if ask.still_on.is_empty() {
        line(
            "hardware",
            Stands::In,
            "Nothing is on that should be off.".into(),
        );
    } else {
        line(
            "hardware",
            Stands::Near,
            format!(
                "Still on: {}. Take it off, or plan the film round it.",
                ask.still_on.join(", ")
            ),
        );
    }
    lines.sort_by_key(|l| std::cmp::Reverse(l.stands));
    Gate {
        stands: lines
            .iter()
            .map(|l| l.stands)
            .max()
            .unwrap_or(Stands::Unknown),
        never: ask.refuses.iter().any(|(_, never)| *never),
        lines,
    }
}

fn within(celsius: f64, window: Span) -> Stands {
    let out = (window.from - celsius).max(celsius - window.to);
    if out <= 0.0 {
        Stands::In
    } else if out <= NEAR_CELSIUS {
        Stands::Near
    } else {
        Stands::Out
    }
}

/// The panel against the window; returns the coldest point that is believed.
fn panel(ask: &GateAsk<'_>, line: &mut impl FnMut(&str, Stands, String)) -> Option<f64> {
    // What was read again in a place counts in place of what was read there before.
    let counts_for = reading_counts_for(ask.open_air);
    let newest = |spot: PanelSpot| {
        let mut there = ask.surface.iter().rev().filter(|r| r.spot == spot);
        there.find(|r| ask.now - r.at <= counts_for)
    };
    let fresh: Vec<&SurfaceRead> = PanelSpot::ALL.into_iter().filter_map(newest).collect();
    let believed: Vec<&&SurfaceRead> = fresh
        .iter()
        .filter(|r| !(ask.bright_metal && r.by == ReadBy::Infrared))
        .collect();
    if ask.bright_metal && believed.len() < fresh.len() {
        line(
            "panel",
            Stands::Unknown,
            "Bright metal mirrors the hall to an infrared thermometer: a cold, wet panel reads warm. Use a contact probe, or read a patch of masking tape after 2 minutes.".into(),
        );
    }
    let coldest = believed.iter().map(|r| r.celsius).reduce(f64::min);
    let Some(coldest) = coldest else {
        if fresh.is_empty() {
            line(
                "panel",
                Stands::Unknown,
                format!(
                    "Read the panel at three points, one of them low, one over a member: nobody has in the last {}.",
                    if counts_for < OLD {
                        "10 minutes, and it lies in the sun"
                    } else {
                        "half hour"
                    }
                ),
            );
        }
        return None;
    };
    let has = |spot: PanelSpot| believed.iter().any(|r| r.spot == spot);
    let missing: Vec<&str> = PanelSpot::ALL
        .into_iter()
        .filter(|spot| !has(*spot))
        .map(PanelSpot::name)
        .collect();
    if !missing.is_empty() {
        line(
            "panel",
            Stands::Unknown,
            format!(
                "Read the panel {} too: {} of {} points are read.",
                missing.join(" and "),
                believed.len(),
                PanelSpot::ALL.len()
            ),
        );
    }
    let warmest = believed.iter().map(|r| r.celsius).fold(coldest, f64::max);
    match ask.window {
        Some(window) => {
            let stands = within(coldest, window).max(within(warmest, window));
            line(
                "panel",
                stands,
                format!(
                    "Panel {} at its coldest{}; {} is fitted at {} to {}.",
                    told(coldest, ask.unit),
                    if warmest - coldest >= 0.5 {
                        format!(", {} at its warmest", told(warmest, ask.unit))
                    } else {
                        String::new()
                    },
                    ask.film,
                    told(window.from, ask.unit),
                    told(window.to, ask.unit)
                ),
            );
        }
        None => line(
            "panel",
            Stands::Out,
            "The films of this side share no temperature at which all are fitted: fit them one after the other, or choose others.".into(),
        ),
    }
    Some(coldest)
}

fn dew(
    ask: &GateAsk<'_>,
    air: &AirRead,
    coldest: Option<f64>,
    line: &mut impl FnMut(&str, Stands, String),
) {
    let Some(dew) = dew_point(air.celsius, air.humidity) else {
        line(
            "dew",
            Stands::Unknown,
            "The humidity that was read is none. Read it again.".into(),
        );
        return;
    };
    let Some(coldest) = coldest else {
        line(
            "dew",
            Stands::Unknown,
            format!(
                "Dew point {}: whether the panel is above it is known once it is read.",
                told(dew, ask.unit)
            ),
        );
        return;
    };
    let margin = coldest - dew;
    let stands = if margin >= DEW_MARGIN_CELSIUS {
        Stands::In
    } else if margin >= DEW_MARGIN_CELSIUS - NEAR_CELSIUS {
        Stands::Near
    } else {
        Stands::Out
    };
    let wanted = apart(DEW_MARGIN_CELSIUS, ask.unit);
    line(
        "dew",
        stands,
        if margin < 0.0 {
            format!(
                "Dew point {}: the panel is below it, water stands on it.",
                told(dew, ask.unit)
            )
        } else {
            format!(
                "Panel {} above the dew point of {}; {wanted} is wanted (guidance for paint, taken by analogy).",
                apart(margin, ask.unit),
                told(dew, ask.unit)
            )
        },
    );
}
