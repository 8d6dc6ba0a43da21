//! What came back of such film elsewhere, for whoever lays or heats it next.

use time::{Duration, OffsetDateTime};
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::call_back::CallBack;
use windrift_store::EntryKind;

use crate::desk::Desk;
use crate::problem::Problem;

/// So far back, and so many, are read.
const LOOK_BACK: Duration = Duration::days(3 * 366);
const MOST: u64 = 500;
/// So many are told of one film.
const TOLD: usize = 3;

/// What came back in the shop, the newest first.
pub struct CalledBack(Vec<CallBack>);

impl CalledBack {
    /// Of the whole shop.
    pub async fn read(desk: &Desk) -> Result<CalledBack, Problem> {
        let since = OffsetDateTime::now_utc() - LOOK_BACK;
        let all = desk.record_since(EntryKind::CallBack, since, MOST).await?;
        let all = all.into_iter().rev();
        Ok(CalledBack(
            all.filter_map(|(_, e)| serde_json::from_value(e.body).ok())
                .collect(),
        ))
    }

    /// What whoever works with film of this class is told.
    pub fn of(&self, class: FilmClass) -> Vec<String> {
        let same = self.0.iter().filter(|c| c.class == Some(class));
        same.take(TOLD)
            .map(|c| {
                format!(
                    "Such film came back: {} at {}, {}. This time: {}.",
                    c.seen.name(),
                    c.place.trim(),
                    c.cause.name(),
                    c.cause.next_time()
                )
            })
            .collect()
    }
}
