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
use windrift_core::ground::mm::typed_in;
use windrift_core::ground::tape::{Unit, parse_wound};
use windrift_core::ground::told::Told;
use windrift_formats::drawing::FileUnit;
use windrift_store::entity::crew;
use windrift_store::sign_in::Signed;

use crate::access::{self, Need};
use crate::problem::Problem;
use serde_path_to_error::Segment;

/// Most bytes in a request's body.
pub const BODY_LIMIT_KIB: u64 = 256;
/// Longest text in any field of a body, in characters.
const TEXT_LIMIT: usize = 400;

/// Who asks, and the headers that routes ask for.
pub struct Caller {
    signed: Result<Signed, Problem>,
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
        Outcome::Success(Caller {
            signed: access::signed(request).await.clone(),
            who: access::acting(request).await,
            if_match: header("If-Match"),
            edit_id: header("Edit-Id"),
            read_at: header("Read-At"),
        })
    }
}

impl Caller {
    /// The device that asks, with everybody who is signed in on it.
    pub fn signed(&self) -> Result<&Signed, Problem> {
        self.signed.as_ref().map_err(Problem::clone)
    }

    /// Whose hand it is, whatever they may do.
    pub fn acting(&self) -> Result<&crew::Model, Problem> {
        self.who.as_ref().map_err(Problem::clone)
    }

    /// The caller, who must be the lead: the shop's own figures are settled by one person.
    pub fn lead(&self) -> Result<&crew::Model, Problem> {
        let member = self.acting()?;
        match Need::met_by(&member.role) {
            Need::Lead => Ok(member),
            _ => Err(access::not_the_lead(member)),
        }
    }

    /// The crew member who asks and may change things.
    pub fn writer(&self) -> Result<&crew::Model, Problem> {
        let member = self.acting()?;
        if Need::met_by(&member.role) >= Need::Fitter {
            return Ok(member);
        }
        Err(access::only_looks(member))
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

/// Lengths that are wound on a roll, at these places of a value: text is read as such, yards too, and becomes millimetres.
///
/// Errors: no such length, with its place.
pub fn wound_lengths(value: &mut Value, unit: Unit, places: &[&str]) -> Result<(), Problem> {
    for place in places {
        if let Some(there) = value.pointer_mut(place)
            && let Some(text) = there.as_str()
        {
            let mm =
                parse_wound(text, unit).map_err(|e| Problem::from(Told::from(e).at(*place)))?;
            *there = mm.into();
        }
    }
    Ok(())
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

/// The unit that a drawing file is read in, from an address.
pub fn unit_of_file(word: &str) -> Result<FileUnit, Problem> {
    serde_json::from_value(Value::from(word)).map_err(|_| {
        Problem::input("unit", "Choose the unit that the file was drawn in.").at("/unit")
    })
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

/// Reads a value as a type of the core; its lengths may be text of a tape in `unit`.
///
/// Errors: a length that cannot be read, with the field that it stands in; something that is missing or of the wrong kind.
pub fn read_typed<T: DeserializeOwned>(value: Value, unit: Unit) -> Result<T, Problem> {
    read_typed_at(value, unit, "")
}

/// The same for a part of a body, which stands there at `at`.
pub fn read_typed_at<T: DeserializeOwned>(
    value: Value,
    unit: Unit,
    at: &str,
) -> Result<T, Problem> {
    let read = |value: &Value| {
        typed_in(unit, || {
            serde_path_to_error::deserialize::<_, T>(value).map_err(misfit)
        })
    };
    match read(&value) {
        (Ok(read), _) => Ok(read),
        (Err(_), Some(refused)) => {
            let field = field_of(&value, &refused.text, |v| {
                read(v).1.as_ref() != Some(&refused)
            });
            Err(Problem::from(refused.why).at(format!("{at}{field}")))
        }
        (Err(misfit), None) => {
            let field = misfit.field.clone().unwrap_or_default();
            Err(misfit.at(format!("{at}{field}")))
        }
    }
}

/// Where text stands that was refused as a length. A deserialiser does not say so of what lies in a tagged enum: each place where the
/// same text stands is tried with a length in its stead, and the one that helps is it.
fn field_of(value: &Value, text: &str, helps: impl Fn(&Value) -> bool) -> String {
    let mut places = Vec::new();
    find_text(value, text, String::new(), &mut places);
    let found = places.iter().find(|path| {
        let mut other = value.clone();
        if let Some(place) = other.pointer_mut(path) {
            *place = Value::from(1.0);
        }
        helps(&other)
    });
    found.or(places.first()).cloned().unwrap_or_default()
}

fn find_text(value: &Value, text: &str, path: String, places: &mut Vec<String>) {
    match value {
        Value::String(there) if there == text => places.push(path),
        Value::Array(items) => {
            for (n, item) in items.iter().enumerate() {
                find_text(item, text, format!("{path}/{n}"), places);
            }
        }
        Value::Object(fields) => {
            for (key, item) in fields {
                find_text(item, text, format!("{path}/{key}"), places);
            }
        }
        _ => {}
    }
}

/// What a program sent that is missing something or has the wrong kind of it. The reader's own words go to the log, not to a person.
fn misfit(error: serde_path_to_error::Error<serde_json::Error>) -> Problem {
    let path: String = error
        .path()
        .iter()
        .filter_map(|step| match step {
            Segment::Seq { index } => Some(format!("/{index}")),
            Segment::Map { key } => Some(format!("/{key}")),
            Segment::Enum { .. } | Segment::Unknown => None,
        })
        .collect();
    tracing::debug!(%error, path, "a body that does not fit");
    // What the core says about words that were typed begins with those words; the reader's own messages never do.
    let told = error.inner().to_string();
    if told.starts_with('\u{201c}') {
        return Problem::input("typed", told).at(path);
    }
    Problem::input(
        "request",
        "Something that belongs here is missing or is not what is meant. Load the page again and repeat it.",
    )
    .at(path)
}

/// Reads a value as a type of the core.
pub fn read_as<T: DeserializeOwned>(value: Value) -> Result<T, Problem> {
    serde_path_to_error::deserialize(&value).map_err(misfit)
}

/// A name of at most so many characters, without the space round it; `empty` says what to type where there is none.
pub fn named(text: &str, most: usize, field: &str, empty: &str) -> Result<String, Problem> {
    let text = text.trim();
    match text.chars().count() {
        0 => Err(Problem::input("empty", empty).at(format!("/{field}"))),
        n if n <= most => Ok(text.to_owned()),
        n => Err(Problem::input(
            "too_long",
            format!("This has {n} characters; {most} is the most. Shorten it."),
        )
        .at(format!("/{field}"))),
    }
}
