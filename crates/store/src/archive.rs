//! Jobs that are finished: out of the yard, found again, and the start of new ones.

use std::collections::BTreeMap;

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ActiveModelTrait, ColumnTrait, DatabaseTransaction, EntityTrait, QueryFilter, QuerySelect, Set,
    TransactionTrait,
};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{
    feature, finished_job, job, marked_vehicle, marking, photo, piece, print_art, side,
};
use crate::read::is_begun;
use crate::{JobRows, Store, StoreError};

impl Store {
    /// Takes a job out of the yard. The same again changes nothing.
    pub async fn finish_job(&self, id: Uuid, who: Uuid) -> Result<(), StoreError> {
        self.job(id).await?;
        let row = finished_job::ActiveModel {
            job_id: Set(id),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(who),
        };
        finished_job::Entity::insert(row)
            .on_conflict(
                OnConflict::column(finished_job::Column::JobId)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Names a job anew: whom it is for, what it is called, the plate of its vehicle. The same names again change nothing.
    ///
    /// Errors: it is not there, or somebody else named it since `seen`.
    pub async fn name_job(
        &self,
        id: Uuid,
        seen: i32,
        customer: &str,
        title: &str,
        plate: Option<&str>,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let row = job::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        let same = row.customer == customer && row.title == title && row.plate.as_deref() == plate;
        if same {
            transaction.rollback().await?;
            return Ok(());
        }
        if row.revision != seen {
            transaction.rollback().await?;
            return Err(StoreError::Stale {
                revision: row.revision,
                current: json!({ "customer": row.customer, "title": row.title, "plate": row.plate }),
                by: None,
            });
        }
        let named = job::ActiveModel {
            id: Set(id),
            revision: Set(seen + 1),
            customer: Set(customer.into()),
            title: Set(title.into()),
            plate: Set(plate.map(Into::into)),
            ..Default::default()
        };
        named.update(&transaction).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Brings a job back into the yard.
    pub async fn reopen_job(&self, id: Uuid) -> Result<(), StoreError> {
        finished_job::Entity::delete_by_id(id)
            .exec(&self.db)
            .await?;
        Ok(())
    }

    /// When each of these jobs was finished, of those that are.
    pub async fn finished(
        &self,
        ids: &[Uuid],
    ) -> Result<BTreeMap<Uuid, OffsetDateTime>, StoreError> {
        let rows = finished_job::Entity::find()
            .filter(finished_job::Column::JobId.is_in(ids.to_vec()))
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(|r| (r.job_id, r.at)).collect())
    }

    /// Starts a job with everything that was laid out on another: its sides, features, pieces, marking, and the photos that they name. Nothing
    /// of what was done comes along. `fresh` makes the key of the n-th copied row; `changed` is given what each side begins with.
    ///
    /// Errors: the other job is not there. The same key again answers the job that it started.
    pub async fn copy_job(
        &self,
        from: Uuid,
        new: job::Model,
        fresh: impl Fn(u32) -> Uuid,
        changed: impl Fn(&mut Value),
    ) -> Result<JobRows, StoreError> {
        let old = self.job(from).await?;
        let id = new.id;
        let transaction = self.db.begin().await?;
        if !is_begun(&transaction, new).await? {
            transaction.rollback().await?;
            return self.job(id).await;
        }
        let mut n = 0;
        let mut keys: BTreeMap<String, Uuid> = BTreeMap::new();
        let photos: Vec<Uuid> = photo::Entity::find()
            .select_only()
            .column(photo::Column::Id)
            .filter(photo::Column::JobId.eq(from))
            .into_tuple()
            .all(&transaction)
            .await?;
        let rows = old.sides.iter().flat_map(|s| {
            let features = s.features.iter().map(|f| f.id);
            let pieces = s.pieces.iter().map(|p| p.id);
            let marking = s.marking.iter().map(|m| m.id);
            std::iter::once(s.side.id)
                .chain(features)
                .chain(pieces)
                .chain(marking)
                .collect::<Vec<_>>()
        });
        for key in rows.chain(photos.iter().copied()) {
            n += 1;
            keys.insert(key.to_string(), fresh(n));
        }
        let mut named = Vec::new();
        let mut vehicle = None;
        for s in &old.sides {
            let at = keys[&s.side.id.to_string()];
            let mut spec = renamed(&s.side.spec, &keys, &mut named);
            changed(&mut spec);
            let row = side::ActiveModel {
                id: Set(at),
                parent_id: Set(id),
                revision: Set(1),
                spec: Set(spec),
            };
            row.insert(&transaction).await?;
            for f in &s.features {
                let row = feature::ActiveModel {
                    id: Set(keys[&f.id.to_string()]),
                    parent_id: Set(at),
                    revision: Set(1),
                    spec: Set(renamed(&f.spec, &keys, &mut named)),
                };
                row.insert(&transaction).await?;
            }
            for p in &s.pieces {
                let row = piece::ActiveModel {
                    id: Set(keys[&p.id.to_string()]),
                    parent_id: Set(at),
                    revision: Set(1),
                    spec: Set(renamed(&p.spec, &keys, &mut named)),
                };
                row.insert(&transaction).await?;
            }
            if let Some(m) = &s.marking {
                let row = marking::ActiveModel {
                    id: Set(keys[&m.id.to_string()]),
                    parent_id: Set(at),
                    revision: Set(1),
                    spec: Set(renamed(&m.spec, &keys, &mut named)),
                };
                row.insert(&transaction).await?;
            }
            vehicle = vehicle.or(s.vehicle.as_ref());
        }
        if let Some(v) = vehicle {
            let row = marked_vehicle::ActiveModel {
                id: Set(fresh(n + 1)),
                parent_id: Set(id),
                revision: Set(1),
                spec: Set(renamed(&v.spec, &keys, &mut named)),
            };
            row.insert(&transaction).await?;
        }
        for old in photos.iter().filter(|p| named.contains(&p.to_string())) {
            copy_photo(&transaction, *old, keys[&old.to_string()], id).await?;
        }
        transaction.commit().await?;
        self.job(id).await
    }
}

/// What is kept, with the copies' keys in the place of those that it names; which ones it names.
fn renamed(spec: &Value, keys: &BTreeMap<String, Uuid>, named: &mut Vec<String>) -> Value {
    match spec {
        Value::String(text) => match keys.get(text) {
            Some(key) => {
                named.push(text.clone());
                Value::String(key.to_string())
            }
            None => spec.clone(),
        },
        Value::Array(items) => items.iter().map(|v| renamed(v, keys, named)).collect(),
        Value::Object(fields) => fields
            .iter()
            .map(|(k, v)| {
                let key = keys.get(k).map_or_else(|| k.clone(), Uuid::to_string);
                (key, renamed(v, keys, named))
            })
            .collect(),
        other => other.clone(),
    }
}

/// A photo of the new job's own: what becomes of the other job is no business of this one.
async fn copy_photo(
    db: &DatabaseTransaction,
    old: Uuid,
    new: Uuid,
    job: Uuid,
) -> Result<(), StoreError> {
    let Some(found) = photo::Entity::find_by_id(old).one(db).await? else {
        return Ok(());
    };
    let row = photo::ActiveModel {
        id: Set(new),
        job_id: Set(job),
        at: Set(found.at),
        crew_id: Set(found.crew_id),
        width: Set(found.width),
        height: Set(found.height),
        jpeg: Set(found.jpeg),
        small: Set(found.small),
    };
    row.insert(db).await?;
    if let Some(art) = print_art::Entity::find_by_id(old).one(db).await? {
        let row = print_art::ActiveModel {
            photo_id: Set(new),
            kind: Set(art.kind),
            bytes: Set(art.bytes),
        };
        row.insert(db).await?;
    }
    Ok(())
}
