//! The record of a job: appended, never overwritten, each entry carrying the hash of the one before.

use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, QuerySelect, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::chain::entry_hash;
use crate::entity::{hinge_lock, record};
use crate::{Store, StoreError};

/// Kinds of entries.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum EntryKind {
    /// What was read at both flats, and what Windrift said to it.
    Reading,
    /// The hinge was locked.
    Lock,
    /// A plan was issued.
    Plan,
    /// Something of the walk round: damage, a doubt, a photo, hardware off or on, the customer's word.
    WalkRound,
    /// A piece was laid down.
    Laid,
    /// Something of the floor: a wait, a check, a trouble.
    Floor,
    /// The audit of a side's marking, as it stood.
    Marking,
}

impl EntryKind {
    fn word(self) -> &'static str {
        match self {
            EntryKind::Reading => "reading",
            EntryKind::Lock => "lock",
            EntryKind::Plan => "plan",
            EntryKind::WalkRound => "walk_round",
            EntryKind::Laid => "laid",
            EntryKind::Floor => "floor",
            EntryKind::Marking => "marking",
        }
    }
}

/// An entry to be appended.
#[derive(Debug, Clone)]
pub struct NewEntry {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// What kind of entry it is.
    pub kind: EntryKind,
    /// Who did it.
    pub crew: Uuid,
    /// The piece it is about.
    pub piece: Option<Uuid>,
    /// What is recorded.
    pub body: Value,
}

/// An entry of the record.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct RecordEntry {
    /// The client-made id.
    pub id: Uuid,
    /// Number in the job's record, from 1.
    pub seq: i64,
    /// When, in UTC.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub crew: Uuid,
    /// What kind.
    pub kind: EntryKind,
    /// The piece it is about.
    pub piece: Option<Uuid>,
    /// What was recorded.
    pub body: Value,
    /// Hash of this entry, hexadecimal.
    pub hash: String,
}

/// Whether a record is whole.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct ChainCheck {
    /// Entries read.
    pub entries: i64,
    /// Hash of the newest entry, hexadecimal; zeros where there is none.
    pub latest: String,
    /// First entry that does not fit, if any.
    pub broken_at: Option<i64>,
}

/// What is hashed and kept. Field order is fixed by this struct.
#[derive(Serialize, Deserialize)]
struct Canonical {
    id: Uuid,
    at: String,
    crew: Uuid,
    kind: EntryKind,
    piece: Option<Uuid>,
    body: Value,
}

pub(crate) fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

fn read_entry(row: record::Model) -> Result<RecordEntry, StoreError> {
    let canonical: Canonical = serde_json::from_slice(&row.bytes)?;
    Ok(RecordEntry {
        id: row.id,
        seq: row.seq,
        at: row.at,
        crew: row.crew_id,
        kind: canonical.kind,
        piece: row.piece_id,
        body: canonical.body,
        hash: hex(&row.hash),
    })
}

impl Store {
    /// Appends an entry to a job's record and returns it. The same id again returns the entry that stands, and writes nothing.
    pub async fn append(&self, job: Uuid, entry: NewEntry) -> Result<RecordEntry, StoreError> {
        let transaction = self.db.begin().await?;
        let written = append_in(&transaction, job, &entry).await?;
        transaction.commit().await?;
        Ok(written)
    }

    /// Appends a lock and marks the piece's hinge as locked at these revisions, in one transaction.
    pub async fn append_lock(
        &self,
        job: Uuid,
        entry: NewEntry,
        piece_revision: i32,
        side_revision: i32,
    ) -> Result<RecordEntry, StoreError> {
        let piece = entry.piece.ok_or(StoreError::NotFound("piece"))?;
        let transaction = self.db.begin().await?;
        let written = append_in(&transaction, job, &entry).await?;
        transaction
            .execute_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "INSERT INTO hinge_lock (piece_id, piece_revision, side_revision, seq, at, crew_id)
                 VALUES ($1, $2, $3, $4, $5, $6)
                 ON CONFLICT (piece_id) DO UPDATE SET piece_revision = $2, side_revision = $3, seq = $4, at = $5, crew_id = $6
                 WHERE hinge_lock.seq < $4",
                [piece.into(), piece_revision.into(), side_revision.into(), written.seq.into(), written.at.into(), written.crew.into()],
            ))
            .await?;
        transaction.commit().await?;
        Ok(written)
    }

    /// Entries of a job's record after `after`, oldest first, at most `limit`.
    pub async fn record(
        &self,
        job: Uuid,
        after: i64,
        limit: u64,
    ) -> Result<Vec<RecordEntry>, StoreError> {
        let rows = record::Entity::find()
            .filter(record::Column::JobId.eq(job))
            .filter(record::Column::Seq.gt(after))
            .order_by_asc(record::Column::Seq)
            .limit(limit)
            .all(&self.db)
            .await?;
        rows.into_iter().map(read_entry).collect()
    }

    /// Every entry of one kind in a job's record, oldest first, at most `limit`.
    pub async fn record_of_kind(
        &self,
        job: Uuid,
        kind: EntryKind,
        limit: u64,
    ) -> Result<Vec<RecordEntry>, StoreError> {
        let rows = record::Entity::find()
            .filter(record::Column::JobId.eq(job))
            .filter(record::Column::Kind.eq(kind.word()))
            .order_by_asc(record::Column::Seq)
            .limit(limit)
            .all(&self.db)
            .await?;
        rows.into_iter().map(read_entry).collect()
    }

    /// The newest entries about one piece, newest first, at most `limit`.
    pub async fn record_of_piece(
        &self,
        piece: Uuid,
        limit: u64,
    ) -> Result<Vec<RecordEntry>, StoreError> {
        let rows = record::Entity::find()
            .filter(record::Column::PieceId.eq(piece))
            .order_by_desc(record::Column::Seq)
            .limit(limit)
            .all(&self.db)
            .await?;
        rows.into_iter().map(read_entry).collect()
    }

    /// The entry with this client-made id, if it stands.
    pub async fn entry(&self, id: Uuid) -> Result<Option<RecordEntry>, StoreError> {
        let row = record::Entity::find()
            .filter(record::Column::Id.eq(id))
            .one(&self.db)
            .await?;
        row.map(read_entry).transpose()
    }

    /// Walks a job's chain from its first entry and says whether every entry is whole and in place.
    pub async fn check_chain(&self, job: Uuid) -> Result<ChainCheck, StoreError> {
        let mut check = ChainCheck {
            entries: 0,
            latest: hex(&[0; 32]),
            broken_at: None,
        };
        let mut previous = vec![0; 32];
        loop {
            let rows = record::Entity::find()
                .filter(record::Column::JobId.eq(job))
                .filter(record::Column::Seq.gt(check.entries))
                .order_by_asc(record::Column::Seq)
                .limit(500)
                .all(&self.db)
                .await?;
            if rows.is_empty() {
                return Ok(check);
            }
            for row in rows {
                check.entries += 1;
                let hash = entry_hash(&previous, job.as_bytes(), row.seq, &row.bytes);
                if row.seq != check.entries || row.previous != previous || row.hash != hash {
                    check.broken_at = Some(row.seq);
                    return Ok(check);
                }
                check.latest = hex(&hash);
                previous = hash;
            }
        }
    }

    /// Which of these pieces were laid down, by the record.
    pub async fn laid(&self, pieces: &[Uuid]) -> Result<Vec<Uuid>, StoreError> {
        Ok(record::Entity::find()
            .select_only()
            .column(record::Column::PieceId)
            .distinct()
            .filter(record::Column::Kind.eq(EntryKind::Laid.word()))
            .filter(record::Column::PieceId.is_in(pieces.iter().copied()))
            .into_tuple()
            .all(&self.db)
            .await?)
    }

    /// The hinge locks of these pieces.
    pub async fn locks(&self, pieces: &[Uuid]) -> Result<Vec<hinge_lock::Model>, StoreError> {
        Ok(hinge_lock::Entity::find()
            .filter(hinge_lock::Column::PieceId.is_in(pieces.iter().copied()))
            .all(&self.db)
            .await?)
    }
}

/// Appends within a transaction. Locks the job's head row, so that two writers follow each other.
pub(crate) async fn append_in(
    transaction: &DatabaseTransaction,
    job: Uuid,
    entry: &NewEntry,
) -> Result<RecordEntry, StoreError> {
    let head = transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT last_seq, last_hash FROM job_head WHERE job_id = $1 FOR UPDATE",
            [job.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("job"))?;
    if let Some(standing) = record::Entity::find()
        .filter(record::Column::Id.eq(entry.id))
        .one(transaction)
        .await?
    {
        let same = standing.job_id == job
            && standing.kind == entry.kind.word()
            && standing.piece_id == entry.piece;
        return if same {
            read_entry(standing)
        } else {
            Err(StoreError::IdTaken)
        };
    }
    let seq = head.try_get::<i64>("", "last_seq")? + 1;
    let previous: Vec<u8> = head.try_get("", "last_hash")?;
    // PostgreSQL keeps microseconds; what is hashed is what is kept.
    let now = OffsetDateTime::now_utc();
    let at = now
        .replace_nanosecond(now.nanosecond() / 1000 * 1000)
        .unwrap_or(now);
    let canonical = Canonical {
        id: entry.id,
        at: at
            .format(&time::format_description::well_known::Rfc3339)
            .unwrap_or_default(),
        crew: entry.crew,
        kind: entry.kind,
        piece: entry.piece,
        body: entry.body.clone(),
    };
    let bytes = serde_json::to_vec(&canonical)?;
    let hash = entry_hash(&previous, job.as_bytes(), seq, &bytes);
    transaction
        .execute_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "INSERT INTO record (job_id, seq, id, at, crew_id, kind, piece_id, bytes, previous, hash)
             VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)",
            [
                job.into(), seq.into(), entry.id.into(), at.into(), entry.crew.into(), entry.kind.word().into(),
                entry.piece.into(), bytes.into(), previous.into(), hash.clone().into(),
            ],
        ))
        .await?;
    transaction
        .execute_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "UPDATE job_head SET last_seq = $2, last_hash = $3 WHERE job_id = $1",
            [job.into(), seq.into(), hash.clone().into()],
        ))
        .await?;
    Ok(RecordEntry {
        id: entry.id,
        seq,
        at,
        crew: entry.crew,
        kind: entry.kind,
        piece: entry.piece,
        body: entry.body.clone(),
        hash: hex(&hash),
    })
}
