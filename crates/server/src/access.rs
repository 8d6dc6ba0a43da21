//! Who may ask what. Each route has a need, given in the one list of routes; the gate before it lets nobody by who has less.

use rocket::data::Data;
use rocket::http::Status;
use rocket::request::Request;
use rocket::route::{Handler, Outcome};
use rocket::{Route, async_trait};
use sha2::{Digest, Sha256};
use uuid::Uuid;
use windrift_store::Store;
use windrift_store::entity::crew;
use windrift_store::sign_in::Signed;

use crate::problem::Problem;

/// The cookie that says on which device somebody is signed in.
pub const COOKIE: &str = "windrift";

/// What a route asks of whoever asks it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Need {
    /// Nothing: it is needed before anybody is signed in, or looks at a key of its own.
    Open,
    /// Somebody who may look and print.
    Viewer,
    /// Somebody who records and changes the work.
    Fitter,
    /// The lead.
    Lead,
}

impl Need {
    /// What a member of the crew meets at most, by their part.
    pub fn met_by(role: &str) -> Need {
        match role {
            "lead" => Need::Lead,
            "fitter" => Need::Fitter,
            _ => Need::Viewer,
        }
    }
}

/// How a secret that is random enough by itself is kept: SHA-256.
pub fn hash_of(secret: &str) -> Vec<u8> {
    Sha256::digest(secret.as_bytes()).to_vec()
}

/// Who is signed in on the device that asks; asked of the store once a request.
pub async fn signed<'r>(request: &'r Request<'_>) -> &'r Result<Signed, Problem> {
    request
        .local_cache_async(async {
            let out = || {
                Problem::new(
                    Status::Unauthorized,
                    "signed_out",
                    "Nobody is signed in on this device, or not any more. Sign in, then do it again: what you typed is kept.",
                )
            };
            let token = request.cookies().get(COOKIE).ok_or_else(out)?;
            let store = request.rocket().state::<Store>().ok_or_else(out)?;
            let found = store.session_of(&hash_of(token.value())).await?;
            match found {
                Some(signed) if !signed.people.is_empty() => Ok(signed),
                _ => Err(out()),
            }
        })
        .await
}

/// Whose hand it is: the person that Crew-Id names, who must be signed in on this device; the only one there, where it names nobody.
pub async fn acting(request: &Request<'_>) -> Result<crew::Model, Problem> {
    let signed = signed(request).await.as_ref().map_err(Problem::clone)?;
    match request.headers().get_one("Crew-Id") {
        Some(named) => {
            let id = named.parse::<Uuid>().ok();
            let found = signed.people.iter().find(|p| Some(p.id) == id);
            found.cloned().ok_or_else(|| {
                Problem::new(
                    Status::Unauthorized,
                    "who",
                    "Whoever did this is not signed in on this device now. Choose them at the top, with their PIN, and it goes on.",
                )
            })
        }
        None => match signed.people.as_slice() {
            [only] => Ok(only.clone()),
            _ => Err(Problem::new(
                Status::Unauthorized,
                "who",
                "Choose who you are at the top, then do it again.",
            )),
        },
    }
}

/// Stands before a route.
#[derive(Clone)]
pub struct Gate {
    need: Need,
    inner: Box<dyn Handler>,
}

impl Gate {
    /// The route, with a gate before it.
    pub fn before(mut route: Route, need: Need) -> Route {
        let inner = route.handler;
        route.handler = Box::new(Gate { need, inner });
        route
    }

    async fn refusal(&self, request: &Request<'_>) -> Option<Problem> {
        match self.need {
            Need::Open => None,
            // A picture or a paper is fetched without saying who: anybody who is signed in may look.
            Need::Viewer => signed(request).await.as_ref().err().cloned(),
            Need::Fitter | Need::Lead => match acting(request).await {
                Err(problem) => Some(problem),
                Ok(who) if Need::met_by(&who.role) >= self.need => None,
                Ok(who) if self.need == Need::Lead => Some(not_the_lead(&who)),
                Ok(who) => Some(only_looks(&who)),
            },
        }
    }
}

/// Said to somebody who wants what only the lead may.
pub fn not_the_lead(who: &crew::Model) -> Problem {
    Problem::new(
        Status::Forbidden,
        "not_the_lead",
        format!(
            "{} may not do this: it is the lead's. Ask the lead, or choose the lead at the top.",
            who.name
        ),
    )
}

/// Said to somebody who may only look.
pub fn only_looks(who: &crew::Model) -> Problem {
    Problem::new(
        Status::Forbidden,
        "viewer",
        format!(
            "{} may look and print, not change. Choose a fitter or the lead at the top.",
            who.name
        ),
    )
}

#[async_trait]
impl Handler for Gate {
    async fn handle<'r>(&self, request: &'r Request<'_>, data: Data<'r>) -> Outcome<'r> {
        match self.refusal(request).await {
            Some(problem) => Outcome::from(request, problem),
            None => self.inner.handle(request, data).await,
        }
    }
}
