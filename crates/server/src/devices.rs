//! Devices that send with a key of their own: what they read, whether their key is good, and when they say that it was.

use rocket::http::Status;
use rocket::request::{FromRequest, Outcome, Request};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use windrift_store::entity::device;

use crate::access::hash_of;
use crate::desk::Desk;
use crate::problem::Problem;

/// What a device reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Reads {
    /// The air of a bay.
    #[default]
    Air,
    /// Film behind the heat.
    Heat,
}

impl Reads {
    /// Of the word that it is kept under.
    pub fn of(word: &str) -> Reads {
        match word {
            "heat" => Reads::Heat,
            _ => Reads::Air,
        }
    }

    /// The word that it is kept under.
    pub fn word(self) -> &'static str {
        match self {
            Reads::Air => "air",
            Reads::Heat => "heat",
        }
    }
}

/// A device's key, from the header that it sends.
pub struct DeviceKey(Option<String>);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for DeviceKey {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        let key = request.headers().get_one("Device-Key");
        Outcome::Success(DeviceKey(key.map(str::to_owned)))
    }
}

impl DeviceKey {
    /// The device, where its key is good and it reads this.
    pub async fn known(&self, desk: &Desk, reads: Reads) -> Result<device::Model, Problem> {
        let unknown = || {
            Problem::new(
                Status::Unauthorized,
                "device",
                "This device's key is not known here, or was withdrawn. Make it anew under Prep, Bay, Sensors.",
            )
        };
        let hash = hash_of(self.0.as_deref().ok_or_else(unknown)?);
        // Before anything is read or asked: what floods costs next to nothing.
        desk.not_too_often(&hash)?;
        let known = desk.device_of_key(&hash).await?.ok_or_else(unknown)?;
        if known.withdrawn {
            return Err(unknown());
        }
        if Reads::of(&known.reads) != reads {
            return Err(Problem::input(
                "device",
                match reads {
                    Reads::Air => {
                        "This key is a thermometer\u{2019}s: what it reads goes to /api/heat-readings."
                    }
                    Reads::Heat => {
                        "This key is a sensor\u{2019}s in a bay: what it reads goes to /api/readings."
                    }
                },
            ));
        }
        Ok(known)
    }
}

/// How far a device's clock is believed.
pub struct DeviceClock {
    /// What the device is called in a sentence: `sensor`.
    pub device: &'static str,
    /// It may be ahead by this.
    pub ahead: Duration,
    /// Older readings are let go.
    pub oldest: Duration,
    /// The same in words: `a week`.
    pub oldest_in_words: &'static str,
}

impl DeviceClock {
    /// When the `n`th reading of a request was taken; now where the device does not say.
    ///
    /// Errors: its clock is ahead or behind, told at that reading.
    pub fn taken(
        &self,
        n: usize,
        at: Option<OffsetDateTime>,
        now: OffsetDateTime,
    ) -> Result<OffsetDateTime, Problem> {
        let at = at.unwrap_or(now);
        let says = if at > now + self.ahead {
            format!(
                "This reading is from the future: the {}\u{2019}s clock is ahead.",
                self.device
            )
        } else if at < now - self.oldest {
            format!(
                "This reading is more than {} old: the {}\u{2019}s clock is behind.",
                self.oldest_in_words, self.device
            )
        } else {
            return Ok(at);
        };
        Err(
            Problem::input("readings", format!("{says} Set it, or leave the time out."))
                .at(format!("/readings/{n}/at")),
        )
    }
}
