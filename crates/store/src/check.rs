//! Whether what is kept is whole: each job's record from its first entry to its last; and whether every photo begins and ends as a picture does.

use std::collections::BTreeSet;

use sea_orm::{ColumnTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect};
use uuid::Uuid;

use crate::entity::{job, photo};
use crate::{Store, StoreError};

/// What was found.
#[derive(Debug, Default, PartialEq, Eq)]
pub struct Checked {
    /// Jobs looked at.
    pub jobs: u64,
    /// Entries of their records.
    pub entries: u64,
    /// Photos.
    pub photos: u64,
    /// What is not whole, a sentence each. Empty where all is.
    pub wrong: Vec<String>,
}

/// A JPEG begins and ends so (ITU-T T.81, SOI and EOI).
const BEGINS: [u8; 2] = [0xff, 0xd8];
const ENDS: [u8; 2] = [0xff, 0xd9];

impl Store {
    /// Looks at everything that is kept.
    pub async fn check_all(&self) -> Result<Checked, StoreError> {
        let mut checked = Checked::default();
        let jobs: Vec<(Uuid, String)> = job::Entity::find()
            .select_only()
            .columns([job::Column::Id, job::Column::Customer])
            .order_by_asc(job::Column::Id)
            .into_tuple()
            .all(&self.db)
            .await?;
        for (id, customer) in jobs {
            checked.jobs += 1;
            let chain = self.check_chain(id).await?;
            checked.entries += chain.entries.unsigned_abs();
            if let Some(at) = chain.broken_at {
                checked.wrong.push(format!(
                    "The record of the job for {customer} ({id}) is not whole at entry {at}."
                ));
            }
            let there: BTreeSet<Uuid> = photo::Entity::find()
                .select_only()
                .column(photo::Column::Id)
                .filter(photo::Column::JobId.eq(id))
                .into_tuple()
                .all(&self.db)
                .await?
                .into_iter()
                .collect();
            for one in there {
                checked.photos += 1;
                let whole = photo::Entity::find_by_id(one)
                    .one(&self.db)
                    .await?
                    .is_some_and(|p| p.jpeg.starts_with(&BEGINS) && p.jpeg.ends_with(&ENDS));
                if !whole {
                    checked.wrong.push(format!(
                        "Photo {one} of the job for {customer} cannot be seen."
                    ));
                }
            }
        }
        Ok(checked)
    }
}
