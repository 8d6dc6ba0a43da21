//! What thermometers read behind the heat: kept as it came, told as it comes.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, Condition, ConnectionTrait, DbBackend, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect, Set, Statement, TransactionTrait,
};
use serde_json::{Value, json};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::entity::heat_reading;
use crate::{Store, StoreError};

/// Any number, the same for every server: whoever closes a run waits for what is just being written.
const LOCK: i64 = 5_401_727;
/// The thermometer trails the heat: readings so long after the last mark still belong to its walk.
const AFTER: Duration = Duration::seconds(3);
/// Most readings of one job: three hours and a half of two thermometers, ten times a second each.
const MOST: u64 = 250_000;

/// When a thermometer read on for a job.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Window {
    /// The thermometer.
    pub device: Uuid,
    /// From the first mark of a walk.
    pub from: OffsetDateTime,
    /// To its last one.
    pub to: OffsetDateTime,
}

impl Window {
    /// Widens the window of a walk, or begins it.
    pub fn add(windows: &mut Vec<(Uuid, Window)>, walk: Uuid, device: Uuid, at: OffsetDateTime) {
        match windows
            .iter_mut()
            .find(|(w, of)| *w == walk && of.device == device)
        {
            Some((_, of)) => {
                of.from = of.from.min(at);
                of.to = of.to.max(at);
            }
            None => windows.push((
                walk,
                Window {
                    device,
                    from: at,
                    to: at,
                },
            )),
        }
    }

    /// Whether a reading belongs to it.
    pub fn has(&self, device: Uuid, at: OffsetDateTime) -> bool {
        self.device == device && self.from <= at && at <= self.to + AFTER
    }
}

fn within(windows: &[Window]) -> Condition {
    windows.iter().fold(Condition::any(), |any, w| {
        any.add(
            Condition::all()
                .add(heat_reading::Column::DeviceId.eq(w.device))
                .add(heat_reading::Column::At.between(w.from, w.to + AFTER)),
        )
    })
}

/// Readings of these windows, oldest first.
pub(crate) async fn read_of(
    db: &impl ConnectionTrait,
    windows: &[Window],
) -> Result<Vec<heat_reading::Model>, StoreError> {
    if windows.is_empty() {
        return Ok(Vec::new());
    }
    Ok(heat_reading::Entity::find()
        .filter(within(windows))
        .order_by_asc(heat_reading::Column::At)
        .order_by_asc(heat_reading::Column::DeviceId)
        .limit(MOST)
        .all(db)
        .await?)
}

impl Store {
    /// The newest reading of a thermometer that is believed.
    pub async fn newest_heat_reading(
        &self,
        device: Uuid,
    ) -> Result<Option<heat_reading::Model>, StoreError> {
        Ok(heat_reading::Entity::find()
            .filter(heat_reading::Column::DeviceId.eq(device))
            .filter(heat_reading::Column::Believed.eq(true))
            .order_by_desc(heat_reading::Column::At)
            .one(&self.db)
            .await?)
    }

    /// Keeps readings of a thermometer; the same moment once. Tells the newest to every server that listens. Returns how many are new.
    pub async fn keep_heat_readings(
        &self,
        device: Uuid,
        readings: &[(OffsetDateTime, f64, bool)],
    ) -> Result<u64, StoreError> {
        let transaction = self.db.begin().await?;
        let lock = format!("SELECT pg_advisory_xact_lock_shared({LOCK})");
        transaction.execute_unprepared(&lock).await?;
        let rows = readings
            .iter()
            .map(|(at, celsius, believed)| heat_reading::ActiveModel {
                device_id: Set(device),
                at: Set(*at),
                celsius: Set(*celsius),
                believed: Set(*believed),
                ..Default::default()
            });
        let new = heat_reading::Entity::insert_many(rows)
            .on_conflict(
                OnConflict::columns([heat_reading::Column::DeviceId, heat_reading::Column::At])
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&transaction)
            .await?;
        let oldest = readings.iter().map(|r| r.0).min();
        let newest = readings.iter().max_by_key(|r| r.0);
        if let (Some(oldest), Some((at, celsius, believed))) = (oldest, newest) {
            let told = json!({
                "what": "heat",
                "device": device,
                "at": at.format(&Rfc3339).unwrap_or_default(),
                "from": oldest.format(&Rfc3339).unwrap_or_default(),
                "celsius": celsius,
                "believed": believed,
            });
            transaction
                .execute_raw(Statement::from_sql_and_values(
                    DbBackend::Postgres,
                    "SELECT pg_notify('windrift', $1)",
                    [told.to_string().into()],
                ))
                .await?;
        }
        transaction.commit().await?;
        Ok(new)
    }

    /// Readings of these windows, oldest first.
    pub async fn heat_readings(
        &self,
        windows: &[Window],
    ) -> Result<Vec<heat_reading::Model>, StoreError> {
        read_of(&self.db, windows).await
    }

    /// The same, with everything in it that anybody began to write before.
    pub async fn heat_readings_settled(
        &self,
        windows: &[Window],
    ) -> Result<Vec<heat_reading::Model>, StoreError> {
        let transaction = self.db.begin().await?;
        let lock = format!("SELECT pg_advisory_xact_lock({LOCK})");
        transaction.execute_unprepared(&lock).await?;
        let found = read_of(&transaction, windows).await;
        transaction.commit().await?;
        found
    }
}

/// The windows of a job, of its record as it was hashed; what cannot be read has none.
pub(crate) fn windows_of<'e>(entries: impl Iterator<Item = &'e str>) -> Vec<Window> {
    let mut windows = Vec::new();
    for entry in entries {
        let Ok(entry) = serde_json::from_str::<Value>(entry) else {
            continue;
        };
        let body = &entry["body"];
        if entry["kind"] != "heat" || body["what"] != "mark" {
            continue;
        }
        let key = |v: &Value| v.as_str().and_then(|s| s.parse::<Uuid>().ok());
        let moment = |v: &Value| OffsetDateTime::parse(v.as_str()?, &Rfc3339).ok();
        let at = moment(&entry["read_at"]).or_else(|| moment(&entry["at"]));
        if let (Some(walk), Some(device), Some(at)) = (key(&body["walk"]), key(&body["device"]), at)
        {
            Window::add(&mut windows, walk, device, at);
        }
    }
    windows.into_iter().map(|(_, window)| window).collect()
}
