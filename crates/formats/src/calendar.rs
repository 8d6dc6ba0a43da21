//! Dates as a calendar file (iCalendar, RFC 5545).

use icalendar::{Calendar, Component, Event};
use time::OffsetDateTime;
use time::macros::format_description;
use uuid::Uuid;
use windrift_core::floor::care::CareDate;

/// What a calendar is about.
#[derive(Debug, Clone, Copy)]
pub struct About<'a> {
    /// The job: with what a date is about it makes each event's own name, so that a second file replaces the first.
    pub job: Uuid,
    /// The shop.
    pub shop: &'a str,
    /// What the job is called.
    pub title: &'a str,
    /// When the file is made.
    pub made: OffsetDateTime,
}

/// Dates that have one, as events: hours in universal time, so that any zone shows them right; days as days.
///
/// ```
/// # use time::macros::datetime;
/// # use windrift_formats::calendar::{About, calendar};
/// let about = About { job: uuid::Uuid::nil(), shop: "Ternhaven", title: "Van", made: datetime!(2026-11-27 9:00 UTC) };
/// assert!(calendar(&about, &[], |day| day.date()).starts_with("BEGIN:VCALENDAR"));
/// ```
pub fn calendar(
    about: &About<'_>,
    dates: &[CareDate],
    day_there: impl Fn(OffsetDateTime) -> time::Date,
) -> String {
    let stamp = |at: OffsetDateTime| {
        let form = format_description!("[year][month][day]T[hour][minute][second]Z");
        at.to_offset(time::UtcOffset::UTC)
            .format(form)
            .unwrap_or_default()
    };
    let mut all = Calendar::new();
    all.name(&format!("{}, {}", about.title, about.shop));
    for date in dates {
        let Some(at) = date.at else {
            continue;
        };
        let mut event = Event::new();
        event
            .uid(&format!("{}-{:?}@windrift", about.job, date.what).to_lowercase())
            .summary(&format!("{}: {}", about.title, date.title))
            .description(&format!("{} {} {}", date.says, date.why, about.shop));
        event.add_property("DTSTAMP", stamp(about.made));
        if date.whole_day {
            let day = day_there(at)
                .format(format_description!("[year][month][day]"))
                .unwrap_or_default();
            event.append_property(
                icalendar::Property::new("DTSTART", day)
                    .add_parameter("VALUE", "DATE")
                    .done(),
            );
        } else {
            event.add_property("DTSTART", stamp(at));
        }
        all.push(event.done());
    }
    all.to_string()
}
