//! A job that is shared by a link: whoever holds it sees this job and no other.

use rocket::http::Status;
use windrift_store::entity::link;

use crate::access::hash_of;
use crate::desk::Desk;
use crate::problem::Problem;

/// The link that an address names, while it lasts.
///
/// Errors: there is none, or not any more.
pub async fn shared(desk: &Desk, token: &str) -> Result<link::Model, Problem> {
    desk.link_of(&hash_of(token)).await?.ok_or_else(|| {
        Problem::new(
            Status::NotFound,
            "link_over",
            "This link has run out, or was withdrawn. Ask the shop for another.",
        )
    })
}
