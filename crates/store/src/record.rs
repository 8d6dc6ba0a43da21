//! The record of a job: appended, never overwritten, each entry carrying the hash of the one before.

use std::collections::BTreeMap;

use sea_orm::{
    AccessMode, ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait,
    IsolationLevel, QueryFilter, QueryOrder, QuerySelect, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

use crate::chain::entry_hash;
use crate::edits::{again, lock_job};
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
    /// Pieces were cut from rolls.
    Cut,
    /// Something about old film: what is on it, a timed patch, what is off, harm.
    Strip,
    /// Something of the preparation: a step of cleaning, a surface that was read, promoter, the gate.
    Prep,
    /// Something of the bay: its air, what is wet in it, which vehicle stands there.
    Bay,
    /// Something of Heat & seal: a reading behind the heat, a run that is closed or sealed.
    Heat,
    /// Something that came back.
    CallBack,
    /// When the fitting starts, and what is done of what is printed, laminated and cut before it.
    Made,
    /// A mail to the owner.
    Mailed,
    /// An entry whose kept bytes cannot be read. It is never written; its hash is checked like any other's.
    Unreadable,
}

impl EntryKind {
    /// The word under which it is kept.
    pub fn word(self) -> &'static str {
        match self {
            EntryKind::Reading => "reading",
            EntryKind::Lock => "lock",
            EntryKind::Plan => "plan",
            EntryKind::WalkRound => "walk_round",
            EntryKind::Laid => "laid",
            EntryKind::Floor => "floor",
            EntryKind::Marking => "marking",
            EntryKind::Cut => "cut",
            EntryKind::Strip => "strip",
            EntryKind::Prep => "prep",
            EntryKind::Bay => "bay",
            EntryKind::Heat => "heat",
            EntryKind::CallBack => "call_back",
            EntryKind::Made => "made",
            EntryKind::Mailed => "mailed",
            EntryKind::Unreadable => "unreadable",
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
    /// When it was read or seen on the floor, where that is not the moment at which it is written.
    pub read_at: Option<OffsetDateTime>,
}

/// An entry of the record.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct RecordEntry {
    /// The client-made id.
    pub id: Uuid,
    /// Number in the job's record, from 1.
    pub seq: i64,
    /// When it was written, in UTC.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// When it was read or seen on the floor, where that was earlier.
    #[serde(
        with = "time::serde::rfc3339::option",
        default,
        skip_serializing_if = "Option::is_none"
    )]
    #[schema(value_type = Option<String>)]
    pub read_at: Option<OffsetDateTime>,
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
    /// First entry that does not fit, if any; the one after the last where entries are missing at the end.
    pub broken_at: Option<i64>,
    /// What is wrong there.
    pub why: Option<Broken>,
}

/// What is wrong with a chain.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Broken {
    /// An entry is missing or out of its place.
    Missing,
    /// An entry's bytes, or the hash beside them, were changed.
    Changed,
    /// What stands beside the bytes (who, when, kind, piece, id) says something else than they do.
    Column,
    /// The head says that the chain ends elsewhere: entries were cut off at the end, or added past it.
    End,
}

/// What is hashed and kept. Field order is fixed by this struct.
#[derive(Serialize, Deserialize)]
struct Canonical {
    id: Uuid,
    at: String,
    crew: Uuid,
    kind: EntryKind,
    piece: Option<Uuid>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    read_at: Option<String>,
    body: Value,
}

impl Canonical {
    fn read_at(&self) -> Option<OffsetDateTime> {
        OffsetDateTime::parse(self.read_at.as_deref()?, &Rfc3339).ok()
    }

    /// Whether the columns beside the bytes say the same.
    fn agrees(&self, row: &record::Model) -> bool {
        self.id == row.id
            && self.crew == row.crew_id
            && self.piece == row.piece_id
            && self.kind.word() == row.kind
            && OffsetDateTime::parse(&self.at, &Rfc3339).is_ok_and(|at| at == row.at)
    }
}

/// To the microsecond: what PostgreSQL keeps is what is hashed.
fn whole_micros(at: OffsetDateTime) -> OffsetDateTime {
    at.replace_nanosecond(at.nanosecond() / 1000 * 1000)
        .unwrap_or(at)
}

fn written(at: OffsetDateTime) -> String {
    at.format(&Rfc3339).unwrap_or_default()
}

/// Bytes as hexadecimal.
pub fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

/// One entry as it is kept. Bytes that cannot be read do not hold up the rest of the record: the entry says so, with what is kept.
fn read_entry(row: record::Model) -> RecordEntry {
    let canonical: Result<Canonical, _> = serde_json::from_slice(&row.bytes);
    let (kind, body, read_at) = match canonical {
        Ok(c) => {
            let read_at = c.read_at();
            (c.kind, c.body, read_at)
        }
        Err(_) => (
            EntryKind::Unreadable,
            Value::from(String::from_utf8_lossy(&row.bytes).into_owned()),
            None,
        ),
    };
    RecordEntry {
        id: row.id,
        seq: row.seq,
        at: row.at,
        read_at,
        crew: row.crew_id,
        kind,
        piece: row.piece_id,
        body,
        hash: hex(&row.hash),
    }
}

impl Store {
    /// Appends an entry to a job's record and returns it. The same id again returns the entry that stands, and writes nothing.
    pub async fn append(&self, job: Uuid, entry: NewEntry) -> Result<RecordEntry, StoreError> {
        again(|| async {
            let transaction = self.db.begin().await?;
            let written = append_in(&transaction, job, &entry).await?;
            transaction.commit().await?;
            Ok(written)
        })
        .await
    }

    /// Appends a lock and keeps what the piece hangs at, in one transaction.
    pub async fn append_lock(
        &self,
        job: Uuid,
        entry: NewEntry,
        hangs_at: Value,
        piece_revision: i32,
        side_revision: i32,
    ) -> Result<RecordEntry, StoreError> {
        let piece = entry.piece.ok_or(StoreError::NotFound("piece"))?;
        again(|| async {
            let transaction = self.db.begin().await?;
            let written = append_in(&transaction, job, &entry).await?;
            transaction
                .execute_raw(Statement::from_sql_and_values(
                    DbBackend::Postgres,
                    "INSERT INTO hinge_lock (piece_id, piece_revision, side_revision, seq, at, crew_id, hangs_at)
                     VALUES ($1, $2, $3, $4, $5, $6, $7)
                     ON CONFLICT (piece_id) DO UPDATE
                     SET piece_revision = $2, side_revision = $3, seq = $4, at = $5, crew_id = $6, hangs_at = $7
                     WHERE hinge_lock.seq < $4",
                    [
                        piece.into(), piece_revision.into(), side_revision.into(), written.seq.into(), written.at.into(),
                        written.crew.into(), hangs_at.clone().into(),
                    ],
                ))
                .await?;
            transaction.commit().await?;
            Ok(written)
        })
        .await
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
        Ok(rows.into_iter().map(read_entry).collect())
    }

    /// Every entry of one kind in a job's record, oldest first, at most `limit`.
    pub async fn record_of_kind(
        &self,
        job: Uuid,
        kind: EntryKind,
        limit: u64,
    ) -> Result<Vec<RecordEntry>, StoreError> {
        self.record_of_kind_after(job, kind, 0, limit).await
    }

    /// The same, of those whose number in the record is larger.
    pub async fn record_of_kind_after(
        &self,
        job: Uuid,
        kind: EntryKind,
        after: i64,
        limit: u64,
    ) -> Result<Vec<RecordEntry>, StoreError> {
        let rows = record::Entity::find()
            .filter(record::Column::JobId.eq(job))
            .filter(record::Column::Kind.eq(kind.word()))
            .filter(record::Column::Seq.gt(after))
            .order_by_asc(record::Column::Seq)
            .limit(limit)
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(read_entry).collect())
    }

    /// Entries of one kind of all jobs that were written since, oldest first, at most `limit`, each with its job.
    pub async fn record_since(
        &self,
        kind: EntryKind,
        since: OffsetDateTime,
        limit: u64,
    ) -> Result<Vec<(Uuid, RecordEntry)>, StoreError> {
        let rows = record::Entity::find()
            .filter(record::Column::Kind.eq(kind.word()))
            .filter(record::Column::At.gte(since))
            // The newest are those that matter where there are too many.
            .order_by_desc(record::Column::At)
            .order_by_desc(record::Column::Seq)
            .limit(limit)
            .all(&self.db)
            .await?;
        let with_job = rows.into_iter().rev();
        Ok(with_job.map(|row| (row.job_id, read_entry(row))).collect())
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
        Ok(rows.into_iter().map(read_entry).collect())
    }

    /// The entry with this client-made id, if it stands.
    pub async fn entry(&self, id: Uuid) -> Result<Option<RecordEntry>, StoreError> {
        let row = record::Entity::find()
            .filter(record::Column::Id.eq(id))
            .one(&self.db)
            .await?;
        Ok(row.map(read_entry))
    }

    /// The entry with this client-made id in this job's record, if it stands there.
    pub async fn entry_of_job(
        &self,
        job: Uuid,
        id: Uuid,
    ) -> Result<Option<RecordEntry>, StoreError> {
        let row = record::Entity::find()
            .filter(record::Column::Id.eq(id))
            .filter(record::Column::JobId.eq(job))
            .one(&self.db)
            .await?;
        Ok(row.map(read_entry))
    }

    /// Walks a job's chain from its first entry to the end that its head names, and says whether every entry is whole and in place.
    pub async fn check_chain(&self, job: Uuid) -> Result<ChainCheck, StoreError> {
        // One picture of both head and entries: somebody may append meanwhile.
        let transaction = self
            .db
            .begin_with_config(
                Some(IsolationLevel::RepeatableRead),
                Some(AccessMode::ReadOnly),
            )
            .await?;
        let head = transaction
            .query_one_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "SELECT last_seq, last_hash FROM job_head WHERE job_id = $1",
                [job.into()],
            ))
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        let (last_seq, last_hash): (i64, Vec<u8>) = (
            head.try_get("", "last_seq")?,
            head.try_get("", "last_hash")?,
        );
        let mut check = ChainCheck {
            entries: 0,
            latest: hex(&[0; 32]),
            broken_at: None,
            why: None,
        };
        let mut previous = vec![0; 32];
        loop {
            let rows = record::Entity::find()
                .filter(record::Column::JobId.eq(job))
                .filter(record::Column::Seq.gt(check.entries))
                .order_by_asc(record::Column::Seq)
                .limit(500)
                .all(&transaction)
                .await?;
            if rows.is_empty() {
                break;
            }
            for row in rows {
                check.entries += 1;
                let hash = entry_hash(&previous, job.as_bytes(), row.seq, &row.bytes);
                let canonical: Option<Canonical> = serde_json::from_slice(&row.bytes).ok();
                check.why = if row.seq != check.entries {
                    Some(Broken::Missing)
                } else if row.previous != previous || row.hash != hash {
                    Some(Broken::Changed)
                } else if canonical.is_some_and(|c| !c.agrees(&row)) {
                    Some(Broken::Column)
                } else {
                    None
                };
                if check.why.is_some() {
                    check.broken_at = Some(check.entries);
                    return Ok(check);
                }
                check.latest = hex(&hash);
                previous = hash;
            }
        }
        if (last_seq, &last_hash) != (check.entries, &previous) {
            check.broken_at = Some(check.entries + 1);
            check.why = Some(Broken::End);
        }
        Ok(check)
    }

    /// Whether entry `seq` of a job's record has a hash that begins like this: what a printed packet says of it.
    pub async fn has_hash(&self, job: Uuid, seq: i64, hash: &str) -> Result<bool, StoreError> {
        let row = record::Entity::find_by_id((job, seq)).one(&self.db).await?;
        Ok(row.is_some_and(|r| !hash.is_empty() && hex(&r.hash).starts_with(hash)))
    }

    /// The newest entry that says of each of these pieces that it was laid down.
    pub async fn laid(&self, pieces: &[Uuid]) -> Result<Vec<LaidPiece>, StoreError> {
        if pieces.is_empty() {
            return Ok(Vec::new());
        }
        let rows = record::Entity::find()
            .filter(record::Column::Kind.eq(EntryKind::Laid.word()))
            .filter(record::Column::PieceId.is_in(pieces.iter().copied()))
            .order_by_asc(record::Column::Seq)
            .all(&self.db)
            .await?;
        let mut laid: BTreeMap<Uuid, LaidPiece> = BTreeMap::new();
        for entry in rows.into_iter().map(read_entry) {
            if let Some(piece) = entry.piece {
                let lies_at = entry.body.get("lies_at").filter(|v| !v.is_null()).cloned();
                laid.insert(piece, LaidPiece { piece, lies_at });
            }
        }
        Ok(laid.into_values().collect())
    }

    /// The hinge locks of these pieces.
    pub async fn locks(&self, pieces: &[Uuid]) -> Result<Vec<hinge_lock::Model>, StoreError> {
        if pieces.is_empty() {
            return Ok(Vec::new());
        }
        Ok(hinge_lock::Entity::find()
            .filter(hinge_lock::Column::PieceId.is_in(pieces.iter().copied()))
            .all(&self.db)
            .await?)
    }
}

/// Appends within a transaction. Locks the job's row, so that two writers follow each other.
pub(crate) async fn append_in(
    transaction: &DatabaseTransaction,
    job: Uuid,
    entry: &NewEntry,
) -> Result<RecordEntry, StoreError> {
    lock_job(transaction, job).await?;
    if let Some(standing) = record::Entity::find()
        .filter(record::Column::Id.eq(entry.id))
        .one(transaction)
        .await?
    {
        let same = standing.job_id == job
            && standing.kind == entry.kind.word()
            && standing.piece_id == entry.piece;
        return if same {
            Ok(read_entry(standing))
        } else {
            Err(StoreError::IdTaken)
        };
    }
    let canonical = Canonical {
        id: entry.id,
        at: written(whole_micros(OffsetDateTime::now_utc())),
        crew: entry.crew,
        kind: entry.kind,
        piece: entry.piece,
        read_at: entry.read_at.map(written),
        body: entry.body.clone(),
    };
    // The database reads who, when and what out of these bytes, numbers and hashes them, and moves the head.
    transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT new_seq FROM append_record($1, $2)",
            [job.into(), serde_json::to_vec(&canonical)?.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("job"))?;
    record::Entity::find()
        .filter(record::Column::Id.eq(entry.id))
        .one(transaction)
        .await?
        .map(read_entry)
        .ok_or(StoreError::NotFound("entry"))
}

/// A piece that was laid down.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidPiece {
    /// The piece.
    pub piece: Uuid,
    /// What it hung at when it was laid, where that was kept.
    pub lies_at: Option<Value>,
}
