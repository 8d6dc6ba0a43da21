//! What comes with a request: who asks, which revision they saw, and a body whose lengths may be typed as installers write them.

use std::future::Future;
use std::time::Duration;

use rocket::data::{Data, ToByteUnit};
use rocket::http::Status;
use rocket::request::{FromRequest, Outcome, Request};
use rocket::tokio::time::timeout;
use serde::de::DeserializeOwned;
use serde_json::Value;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;
use windrift_core::ground::tape::{Unit, parse, parse_signed, print};
use windrift_store::entity::crew;
use windrift_store::{Store, StoreError};

use crate::problem::Problem;

/// Most bytes in a request's body.
pub const BODY_LIMIT_KIB: u64 = 256;
/// Longest text in any field of a body, in characters.
const TEXT_LIMIT: usize = 400;

/// Headers that routes ask for.
pub struct Caller {
    who: Result<crew::Model, Problem>,
    if_match: Option<String>,
    edit_id: Option<String>,
    read_at: Option<String>,
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Caller {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        let header = |name| request.headers().get_one(name).map(str::to_owned);
        let who = match (header("Crew-Id"), request.rocket().state::<Store>()) {
            (Some(id), Some(store)) => match id.parse::<Uuid>() {
                Ok(id) => store.crew_member(id).await.map_err(|e| match e {
                    StoreError::NotFound(_) => nobody(),
                    other => other.into(),
                }),
                Err(_) => Err(nobody()),
            },
            _ => Err(nobody()),
        };
        Outcome::Success(Caller {
            who,
            if_match: header("If-Match"),
            edit_id: header("Edit-Id"),
            read_at: header("Read-At"),
        })
    }
}

fn nobody() -> Problem {
    Problem::new(
        Status::Unauthorized,
        "who",
        "Choose who you are at the top, then do it again.",
    )
}

impl Caller {
    /// The caller, who must be the lead: the shop's own figures are settled by one person.
    pub fn lead(&self) -> Result<&crew::Model, Problem> {
        let member = self.writer()?;
        if member.role == "lead" {
            return Ok(member);
        }
        Err(Problem::new(
            Status::Forbidden,
            "not_the_lead",
            format!(
                "{} may not change the shop's figures. Ask the lead, or choose the lead at the top.",
                member.name
            ),
        ))
    }

    /// The crew member who asks and may change things.
    pub fn writer(&self) -> Result<&crew::Model, Problem> {
        match &self.who {
            Ok(member) if member.role == "viewer" => Err(Problem::new(
                Status::Forbidden,
                "viewer",
                format!(
                    "{} may look and print, not change. Choose a fitter or the lead at the top.",
                    member.name
                ),
            )),
            Ok(member) => Ok(member),
            Err(problem) => Err(problem.clone()),
        }
    }

    /// The revision that the writer saw, from If-Match.
    pub fn seen(&self) -> Result<i32, Problem> {
        let missing = || {
            Problem::new(
                Status::PreconditionRequired,
                "revision",
                "Say which revision you saw (If-Match), so that nobody's work is overwritten.",
            )
        };
        self.if_match
            .as_deref()
            .map(|tag| tag.trim_matches('"'))
            .and_then(|tag| tag.parse().ok())
            .ok_or_else(missing)
    }

    /// When something was read or seen, from Read-At: what waited for a signal is sent later. A device's clock that is ahead says
    /// nothing.
    pub fn read_at(&self) -> Option<OffsetDateTime> {
        let at = OffsetDateTime::parse(self.read_at.as_deref()?, &Rfc3339).ok()?;
        (at <= OffsetDateTime::now_utc()).then_some(at)
    }

    /// The client-made id of this edit, from Edit-Id.
    pub fn edit_id(&self) -> Result<Uuid, Problem> {
        self.edit_id.as_deref().and_then(|id| id.parse().ok()).ok_or_else(|| {
            Problem::new(Status::BadRequest, "edit_id", "Send a fresh Edit-Id (a UUID) with every change, so that a repeated request is known.")
        })
    }
}

/// Reads a JSON body within the limits.
pub async fn read_json(data: Data<'_>) -> Result<Value, Problem> {
    read_json_up_to(data, BODY_LIMIT_KIB).await
}

/// Reads a JSON body of at most so many KiB.
pub async fn read_json_up_to(data: Data<'_>, most_kib: u64) -> Result<Value, Problem> {
    let body = in_time(data.open(most_kib.kibibytes()).into_string()).await?;
    if !body.is_complete() {
        return Err(Problem::new(
            Status::PayloadTooLarge,
            "too_large",
            format!(
                "That is more than {most_kib} KiB, more than Windrift takes at once. Split it."
            ),
        ));
    }
    let value: Value = serde_json::from_str(&body).map_err(|_| unreadable())?;
    if depth(&value) > DEEPEST {
        return Err(unreadable());
    }
    check_texts(&value, "")?;
    Ok(value)
}

/// Reads a body of bytes: a file. `most` is in bytes; `refusal` says what is too large.
pub async fn read_file(data: Data<'_>, most: usize, refusal: &str) -> Result<Vec<u8>, Problem> {
    let body = in_time(data.open(most.bytes()).into_bytes()).await?;
    if !body.is_complete() {
        return Err(Problem::new(Status::PayloadTooLarge, "too_large", refusal));
    }
    Ok(body.into_inner())
}

/// Longest that a body may take to come in.
const BODY_PATIENCE: Duration = Duration::from_secs(60);

async fn in_time<T>(read: impl Future<Output = std::io::Result<T>>) -> Result<T, Problem> {
    timeout(BODY_PATIENCE, read)
        .await
        .map_err(|_| {
            Problem::new(
                Status::RequestTimeout,
                "too_slow",
                "This came in too slowly and was broken off. Try it again with a better connection.",
            )
        })?
        .map_err(|_| unreadable())
}

fn unreadable() -> Problem {
    Problem::new(
        Status::BadRequest,
        "request",
        "The request could not be read. Load the page again and repeat it.",
    )
}

fn check_texts(value: &Value, path: &str) -> Result<(), Problem> {
    match value {
        Value::String(text) if text.chars().count() > TEXT_LIMIT => Err(Problem::input(
            "too_long",
            format!(
                "This text has {} characters; {TEXT_LIMIT} is the most.",
                text.chars().count()
            ),
        )
        .at(path)),
        Value::String(text) if text.chars().any(unseen) => Err(unseen_text().at(path)),
        Value::Array(items) => items
            .iter()
            .enumerate()
            .try_for_each(|(n, v)| check_texts(v, &format!("{path}/{n}"))),
        Value::Object(fields) => fields.iter().try_for_each(|(k, v)| {
            if k.chars().any(unseen) {
                return Err(unseen_text());
            }
            check_texts(v, &format!("{path}/{k}"))
        }),
        _ => Ok(()),
    }
}

/// Characters that nobody sees and neither the database nor XML takes: controls but for tab and line ends, and what Unicode keeps
/// for no character.
pub fn unseen(c: char) -> bool {
    (c.is_control() && !matches!(c, '\t' | '\n' | '\r')) || matches!(c, '\u{fffe}' | '\u{ffff}')
}

fn unseen_text() -> Problem {
    Problem::input(
        "unseen",
        "There is a character in this text that cannot be seen. Type it anew.",
    )
}

/// A word from an address: a name of a file or a typeface, without what cannot be seen, at most so long.
pub fn word(text: &str, longest: usize) -> String {
    let seen: String = text.chars().filter(|c| !unseen(*c) && *c != '\n').collect();
    seen.trim().chars().take(longest).collect()
}

/// Deepest nesting of a body.
const DEEPEST: usize = 40;

fn depth(value: &Value) -> usize {
    match value {
        Value::Array(items) => 1 + items.iter().map(depth).max().unwrap_or(0),
        Value::Object(fields) => 1 + fields.values().map(depth).max().unwrap_or(0),
        _ => 0,
    }
}

/// Lengths that may be less than 0.
const SIGNED: [&str; 16] = [
    "fall_mm",
    // Pieces may overlap.
    "gap_mm",
    "right_mm",
    "down_mm",
    // Features are measured from references that may run above them or begin behind them.
    "back_mm",
    "drop_mm",
    "to_back_mm",
    "to_drop_mm",
    "first_mm",
    "first_head_mm",
    "centre_mm",
    "front_drop_mm",
    "rear_drop_mm",
    "bottom_starts_mm",
    "top_bow_mm",
    "bottom_bow_mm",
];

/// Replaces every typed length (a string in a field whose name ends in `_mm`) by millimetres. Errors name the field.
pub fn read_lengths(value: &mut Value, unit: Unit) -> Result<(), Problem> {
    walk_lengths(value, String::new(), &mut |field, path, length| {
        let Value::String(text) = length else {
            return Ok(());
        };
        let read = if SIGNED.contains(&field) {
            parse_signed(text, unit)
        } else {
            parse(text, unit)
        };
        let mm = read.map_err(|e| Problem::from(e).at(path))?;
        *length = Value::from(mm);
        Ok(())
    })
}

/// Every length of a stored value as it is printed: path of the field to text.
pub fn print_lengths(value: &Value, unit: Unit) -> std::collections::BTreeMap<String, String> {
    let mut printed = std::collections::BTreeMap::new();
    let mut copy = value.clone();
    // Nothing in this walk can fail: it only reads.
    let _ = walk_lengths(&mut copy, String::new(), &mut |_, path, length| {
        if let Some(mm) = length.as_f64() {
            printed.insert(path, print(mm, unit).text);
        }
        Ok(())
    });
    printed
}

type OnLength<'f> = dyn FnMut(&str, String, &mut Value) -> Result<(), Problem> + 'f;

fn walk_lengths(
    value: &mut Value,
    path: String,
    on_length: &mut OnLength<'_>,
) -> Result<(), Problem> {
    match value {
        Value::Object(fields) => fields.iter_mut().try_for_each(|(key, value)| {
            let path = format!("{path}/{key}");
            if key.ends_with("_mm") {
                on_length(key, path, value)
            } else {
                walk_lengths(value, path, on_length)
            }
        }),
        Value::Array(items) => items
            .iter_mut()
            .enumerate()
            .try_for_each(|(n, v)| walk_lengths(v, format!("{path}/{n}"), on_length)),
        _ => Ok(()),
    }
}

/// Reads a value as a type of the core.
pub fn read_as<T: DeserializeOwned>(value: Value) -> Result<T, Problem> {
    serde_json::from_value(value).map_err(|e| {
        Problem::input(
            "request",
            format!("Something is missing or of the wrong kind: {e}."),
        )
    })
}
