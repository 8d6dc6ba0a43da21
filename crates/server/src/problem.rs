//! Errors as people read them: `application/problem+json` (RFC 9457) with a stable code, the field, and one sentence.

use rocket::http::{ContentType, Status};
use rocket::response::{Responder, Response};
use rocket::{Request, catch, response};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use windrift_core::floor::level::LevelError;
use windrift_core::ground::measure_error::MeasureError;
use windrift_core::ground::tape::LengthError;
use windrift_core::ground::told::Told;
use windrift_core::plan::planned::PieceError;
use windrift_formats::drawing::FileError;
use windrift_formats::photo::PhotoError;
use windrift_store::StoreError;

use crate::watched::id_of;

/// What went wrong and what to do about it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Problem {
    /// HTTP status.
    pub status: u16,
    /// Stable code for programs, such as `stale` or `length`.
    pub code: String,
    /// One sentence for the installer: what is wrong, what to do.
    pub detail: String,
    /// The field that it is about, as a path: `/spec/place/along/distance_mm`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub field: Option<String>,
    /// Stale writes: the revision that stands now.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub revision: Option<i32>,
    /// Stale writes: what stands now.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current: Option<Value>,
    /// Stale writes: who wrote what stands now.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// The request that it answers: the log knows it by this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub request: Option<String>,
}

impl Problem {
    /// A problem with a status, a code and a sentence.
    pub fn new(status: Status, code: &str, detail: impl Into<String>) -> Problem {
        Problem {
            status: status.code,
            code: code.into(),
            detail: detail.into(),
            field: None,
            revision: None,
            current: None,
            by: None,
            request: None,
        }
    }

    /// Input that cannot be used.
    pub fn input(code: &str, detail: impl Into<String>) -> Problem {
        Problem::new(Status::UnprocessableEntity, code, detail)
    }

    /// The same problem, about this field.
    pub fn at(self, field: impl Into<String>) -> Problem {
        Problem {
            field: Some(field.into()),
            ..self
        }
    }
}

impl<'r> Responder<'r, 'static> for Problem {
    fn respond_to(mut self, request: &'r Request<'_>) -> response::Result<'static> {
        self.request = Some(id_of(request).to_string());
        let body = serde_json::to_string(&self).unwrap_or_default();
        Response::build()
            .status(Status::new(self.status))
            .header(ContentType::new("application", "problem+json"))
            .sized_body(body.len(), std::io::Cursor::new(body))
            .ok()
    }
}

impl From<Told> for Problem {
    fn from(told: Told) -> Self {
        Problem {
            field: told.field,
            ..Problem::input(told.code, told.sentence)
        }
    }
}

/// What core refuses is passed on as core says it; `$at` is where that part stands in a request.
macro_rules! passed_on {
    ($($error:ty, $at:literal);* $(;)?) => {
        $(impl From<$error> for Problem {
            fn from(error: $error) -> Self {
                Told::from(error).within($at).into()
            }
        })*
    };
}

passed_on!(
    LengthError, "";
    MeasureError, "/spec";
    PieceError, "/spec";
    LevelError, "";
    FileError, "";
    PhotoError, "";
);

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound(what) => Problem::new(
                Status::NotFound,
                "not_found",
                format!("There is no such {what}, or somebody removed it. Go back and look again."),
            ),
            StoreError::Stale {
                revision,
                current,
                by,
            } => {
                let who = by.clone().unwrap_or_else(|| "Somebody else".into());
                Problem {
                    revision: Some(revision),
                    current: Some(current),
                    by,
                    ..Problem::new(
                        Status::Conflict,
                        "stale",
                        format!(
                            "{who} changed this since you opened it. Yours is kept here: compare the two, then keep one."
                        ),
                    )
                }
            }
            StoreError::ChangedSince { by, what, current } => Problem {
                by: Some(by.clone()),
                current,
                ..Problem::new(
                    Status::Conflict,
                    "changed_since",
                    format!(
                        "{by} changed this {} since. To go back over that would lose it, so nothing was changed. Go back over it all the same, or leave this one and take the one before.",
                        what.replace('_', " ")
                    ),
                )
            },
            StoreError::Full { what, most } => Problem::input(
                "too_many",
                format!("There are {most} {what} already; that is the most."),
            ),
            StoreError::InUse => Problem::new(
                Status::Conflict,
                "in_use",
                "Something still belongs to this, or what it was to belong to was removed meanwhile. Go back and look again.",
            ),
            StoreError::NothingTo(what) => Problem::new(
                Status::Conflict,
                "nothing_to_undo",
                format!("There is nothing of yours to {what} on this job."),
            ),
            StoreError::IdTaken => Problem::new(
                Status::Conflict,
                "id_taken",
                "This was sent before for something else. Load the page again and repeat it.",
            ),
            StoreError::Unreachable(_) => Problem::new(
                Status::ServiceUnavailable,
                "database_away",
                "The shop's database cannot be reached just now. Nothing was lost; Windrift goes on by itself when it is back.",
            ),
            StoreError::Database(error) => {
                tracing::error!(%error, "database");
                broken()
            }
            StoreError::Unreadable { what, why } => {
                tracing::error!(what, why, "stored value");
                Problem::new(
                    Status::InternalServerError,
                    UNREADABLE,
                    format!(
                        "The {what} cannot be read: {why}. It is kept as it is; tell whoever looks after Windrift."
                    ),
                )
            }
        }
    }
}

/// The code of what is kept and cannot be read.
pub const UNREADABLE: &str = "unreadable";

pub(crate) fn broken() -> Problem {
    Problem::new(
        Status::InternalServerError,
        "broken",
        "Windrift made a mistake and changed nothing. Try again; if it happens again, tell whoever looks after Windrift.",
    )
}

/// Answers whatever no route answered.
#[catch(default)]
pub fn otherwise(status: Status, request: &Request<'_>) -> Problem {
    match status.code {
        405 => Problem::new(
            status,
            "method",
            format!(
                "{} is not done at {}.",
                request.method(),
                request.uri().path()
            ),
        ),
        404 => Problem::new(
            status,
            "not_found",
            format!("There is nothing at {}.", request.uri().path()),
        ),
        413 => Problem::new(
            status,
            "too_large",
            "That is more than Windrift takes at once. Split it.",
        ),
        422 | 400 => Problem::new(
            status,
            "request",
            "The request could not be read. Load the page again and repeat it.",
        ),
        500 => broken(),
        _ => Problem::new(status, "request", status.reason_lossy()),
    }
}
