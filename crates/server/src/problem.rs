//! Errors as people read them: `application/problem+json` (RFC 9457) with a stable code, the field, and one sentence.

use rocket::http::{ContentType, Status};
use rocket::response::{self, Responder, Response};
use rocket::{Request, catch};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use windrift_core::art::lettering::LetteringError;
use windrift_core::floor::level::LevelError;
use windrift_core::ground::measure_error::MeasureError;
use windrift_core::ground::tape::LengthError;
use windrift_core::place::error::PlaceError;
use windrift_core::plan::piece::ArtError;
use windrift_core::plan::planned::PieceError;
use windrift_store::StoreError;

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
    fn respond_to(self, _: &'r Request<'_>) -> response::Result<'static> {
        let body = serde_json::to_string(&self).unwrap_or_default();
        Response::build()
            .status(Status::new(self.status))
            .header(ContentType::new("application", "problem+json"))
            .sized_body(body.len(), std::io::Cursor::new(body))
            .ok()
    }
}

impl From<LengthError> for Problem {
    fn from(error: LengthError) -> Self {
        Problem::input("length", error.to_string())
    }
}

impl From<MeasureError> for Problem {
    fn from(error: MeasureError) -> Self {
        Problem::input("measure", error.sentence).at(format!("/spec/{}", error.field))
    }
}

impl From<PieceError> for Problem {
    fn from(error: PieceError) -> Self {
        let sentence = error.to_string();
        match error {
            PieceError::Side(error) => error.into(),
            PieceError::Art(ArtError::Lettering(error)) => {
                let field = match error {
                    LetteringError::NoTypeface(_) => "typeface",
                    LetteringError::Size(_) => "size",
                    LetteringError::Colour => "colour",
                    LetteringError::Arch { .. } => "arch",
                    LetteringError::NotAmongWords(_) => "second",
                    LetteringError::Layer { .. } => "outline",
                    LetteringError::Percent { .. } => "tracking_percent",
                    _ => "text",
                };
                Problem::input("lettering", sentence).at(format!("/spec/art/{field}"))
            }
            PieceError::Art(ArtError::Place(_)) => {
                Problem::input("place", sentence).at("/spec/place")
            }
            PieceError::Art(ArtError::Stripe(_)) => {
                Problem::input("stripe", sentence).at("/spec/art")
            }
            PieceError::Art(ArtError::Drawing(_)) => {
                Problem::input("drawing", sentence).at("/spec/art")
            }
            PieceError::Art(ArtError::Panel(_)) => {
                Problem::input("panel", sentence).at("/spec/art")
            }
            PieceError::Place(PlaceError::WiderThanSide { .. }) => {
                Problem::input("wider_than_side", sentence).at("/spec/art/size")
            }
            PieceError::Place(_) => Problem::input("place", sentence).at("/spec/place"),
        }
    }
}

impl From<windrift_formats::drawing::FileError> for Problem {
    fn from(error: windrift_formats::drawing::FileError) -> Self {
        Problem::input("outline_file", error.to_string())
    }
}

impl From<windrift_formats::photo::PhotoError> for Problem {
    fn from(error: windrift_formats::photo::PhotoError) -> Self {
        Problem::input("photo", error.to_string())
    }
}

impl From<LevelError> for Problem {
    fn from(error: LevelError) -> Self {
        Problem::input("readings_contradict", error.to_string())
    }
}

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
