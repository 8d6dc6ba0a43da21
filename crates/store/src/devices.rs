//! Devices, their keys, kept hashed; and what sensors read in the bays, thinned as it is written.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, DbBackend, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Set,
    Statement,
};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::entity::{device, device_reading};
use crate::{Store, StoreError};

/// Most devices that were ever made, withdrawn ones included.
pub const MOST_DEVICES: u64 = 200;
/// One reading of a device is kept in so long.
pub const KEPT_EVERY: Duration = Duration::seconds(10);
/// Most readings that are read at once: a week of them.
const MOST_READINGS: u64 = 61_000;

impl Store {
    /// All devices, the oldest first, withdrawn ones too.
    pub async fn devices(&self) -> Result<Vec<device::Model>, StoreError> {
        Ok(device::Entity::find()
            .order_by_asc(device::Column::At)
            .limit(MOST_DEVICES)
            .all(&self.db)
            .await?)
    }

    /// Makes a device with the hash of its key. The same id again changes nothing.
    ///
    /// Errors: more than there may be.
    pub async fn make_device(
        &self,
        id: Uuid,
        who: Uuid,
        bay: &str,
        name: &str,
        reads: &str,
        key_hash: Vec<u8>,
    ) -> Result<(), StoreError> {
        let all = device::Entity::find();
        if all.count(&self.db).await? >= MOST_DEVICES {
            return Err(StoreError::Full {
                what: "devices",
                most: MOST_DEVICES as usize,
            });
        }
        let row = device::ActiveModel {
            id: Set(id),
            bay: Set(bay.into()),
            name: Set(name.into()),
            reads: Set(reads.into()),
            key_hash: Set(key_hash),
            crew_id: Set(who),
            ..Default::default()
        };
        device::Entity::insert(row)
            .on_conflict(
                OnConflict::column(device::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Withdraws a device's key for good.
    pub async fn withdraw_device(&self, id: Uuid) -> Result<(), StoreError> {
        let row = device::ActiveModel {
            id: Set(id),
            withdrawn: Set(true),
            ..Default::default()
        };
        let found = device::Entity::find_by_id(id).one(&self.db).await?;
        found.ok_or(StoreError::NotFound("device"))?;
        device::Entity::update(row).exec(&self.db).await?;
        Ok(())
    }

    /// The device whose key has this hash, withdrawn or not.
    pub async fn device_of_key(
        &self,
        key_hash: &[u8],
    ) -> Result<Option<device::Model>, StoreError> {
        Ok(device::Entity::find()
            .filter(device::Column::KeyHash.eq(key_hash.to_vec()))
            .one(&self.db)
            .await?)
    }

    /// Keeps readings of a device: one in [`KEPT_EVERY`], the same moment once. Returns how many were kept.
    pub async fn keep_readings(
        &self,
        device: Uuid,
        mut readings: Vec<device_reading::Model>,
    ) -> Result<u64, StoreError> {
        readings.sort_by_key(|r| r.at);
        let newest = device_reading::Entity::find()
            .filter(device_reading::Column::DeviceId.eq(device))
            .order_by_desc(device_reading::Column::At)
            .limit(1)
            .one(&self.db)
            .await?;
        let mut last = newest.map(|r| r.at);
        let mut rows = Vec::new();
        for r in readings {
            // What comes late, out of its order, is let go: a thinned series has no gap that it could fill.
            if last.is_some_and(|at| r.at - at < KEPT_EVERY) {
                continue;
            }
            last = Some(r.at);
            rows.push(device_reading::ActiveModel {
                device_id: Set(device),
                at: Set(r.at),
                received: Set(r.received),
                celsius: Set(r.celsius),
                humidity: Set(r.humidity),
                surface: Set(r.surface),
            });
        }
        let kept = rows.len() as u64;
        if kept > 0 {
            device_reading::Entity::insert_many(rows)
                .on_conflict(
                    OnConflict::columns([
                        device_reading::Column::DeviceId,
                        device_reading::Column::At,
                    ])
                    .do_nothing()
                    .to_owned(),
                )
                .exec_without_returning(&self.db)
                .await?;
        }
        Ok(kept)
    }

    /// Readings of devices since, oldest first, at most a week of one device.
    pub async fn readings_since(
        &self,
        devices: Vec<Uuid>,
        since: OffsetDateTime,
    ) -> Result<Vec<device_reading::Model>, StoreError> {
        let mut rows = device_reading::Entity::find()
            .filter(device_reading::Column::DeviceId.is_in(devices))
            .filter(device_reading::Column::At.gte(since))
            .order_by_desc(device_reading::Column::At)
            .limit(MOST_READINGS)
            .all(&self.db)
            .await?;
        rows.reverse();
        Ok(rows)
    }

    /// Readings of a device since, oldest first: the first one of every minute, and all of the last minutes. A bay is looked at with every tap, and two days of it
    /// are 17,000 readings.
    pub async fn readings_by_minute(
        &self,
        device: Uuid,
        since: OffsetDateTime,
        all_since: OffsetDateTime,
    ) -> Result<Vec<device_reading::Model>, StoreError> {
        let first_of_minutes = "SELECT DISTINCT ON (date_bin('1 minute', at, TIMESTAMPTZ 'epoch')) * FROM device_reading WHERE device_id = $1 AND at >= $2 AND at < $3 ORDER BY date_bin('1 minute', at, TIMESTAMPTZ 'epoch'), at";
        let newest = "SELECT * FROM device_reading WHERE device_id = $1 AND at >= $3";
        let rows = device_reading::Entity::find()
            .from_raw_sql(Statement::from_sql_and_values(
                DbBackend::Postgres,
                format!("SELECT * FROM (({first_of_minutes}) UNION ALL ({newest})) r ORDER BY at"),
                [device.into(), since.into(), all_since.into()],
            ))
            .all(&self.db)
            .await?;
        Ok(rows)
    }
}
