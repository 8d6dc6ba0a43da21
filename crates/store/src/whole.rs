//! A job whole, to leave this Windrift and to be taken in by another: rows as the tables hold them, the record as the bytes that were hashed.

use std::collections::BTreeSet;

use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

use crate::chain::entry_hash;
use crate::entity::{heat_reading, photo, print_art, record};
use crate::heat_readings::{read_of, windows_of};
use crate::record::hex;
use crate::{Store, StoreError};

/// Tables in the order in which they are filled, and which of their rows belong to a job.
const TABLES: [(&str, &str); 9] = [
    ("job", "t.id = $1"),
    ("side", "t.parent_id = $1"),
    (
        "feature",
        "t.parent_id IN (SELECT id FROM side WHERE parent_id = $1)",
    ),
    (
        "piece",
        "t.parent_id IN (SELECT id FROM side WHERE parent_id = $1)",
    ),
    ("marked_vehicle", "t.parent_id = $1"),
    (
        "marking",
        "t.parent_id IN (SELECT id FROM side WHERE parent_id = $1)",
    ),
    (
        "hinge_lock",
        "t.piece_id IN (SELECT p.id FROM piece p JOIN side s ON p.parent_id = s.id WHERE s.parent_id = $1)",
    ),
    ("fitting", "t.job_id = $1"),
    ("plan", "t.job_id = $1"),
];

/// What thermometers read while heat was walked: it follows from the marks in the record.
const HEAT_READING: &str = "heat_reading";

fn row_of_reading(r: &heat_reading::Model) -> Value {
    json!({
        "device_id": r.device_id,
        "at": r.at.format(&Rfc3339).unwrap_or_default(),
        "seq": r.seq,
        "celsius": r.celsius,
        "believed": r.believed,
    })
}

/// Rows of a table, as JSON under the names of its columns.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct TableRows {
    /// The table.
    pub table: String,
    /// Its rows; bytes as `\x` and hexadecimal figures.
    pub rows: Vec<Value>,
}

/// An entry of the record as it was hashed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct HashedEntry {
    /// Its number, from 1.
    pub seq: i64,
    /// Its hash, hexadecimal.
    pub hash: String,
    /// Its text; its bytes in UTF-8 are what was hashed.
    pub entry: String,
}

/// A file that belongs to a job.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JobFile {
    /// Photo that it is of.
    pub photo: Uuid,
    /// What of it: `jpg`, `small.jpg`, `art`.
    pub what: &'static str,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// A job whole.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct JobWhole {
    /// The shop that it comes from.
    pub shop: String,
    /// Rows, table by table; `crew`, `photo` and `print_art` without their files.
    pub tables: Vec<TableRows>,
    /// The record from its first entry.
    pub record: Vec<HashedEntry>,
    /// Photos and print art.
    pub files: Vec<JobFile>,
}

/// Where a chain of entries no longer fits: the number of the first entry that does not, counted from 1; nothing where all do.
///
/// The hash of an entry is SHA-256 over the hash before it (32 zero bytes before the first), the 16 bytes of the job's key, the entry's number as 8 bytes with the
/// greatest first, and its text.
pub fn first_broken(job: Uuid, record: &[HashedEntry]) -> Option<i64> {
    let mut previous = vec![0; 32];
    for (n, entry) in (1..).zip(record) {
        let hash = entry_hash(&previous, job.as_bytes(), n, entry.entry.as_bytes());
        if entry.seq != n || entry.hash != hex(&hash) {
            return Some(n);
        }
        previous = hash;
    }
    None
}

async fn rows_of(
    db: &impl ConnectionTrait,
    table: &str,
    which: &str,
    without: &str,
    job: Uuid,
) -> Result<TableRows, StoreError> {
    let sql = format!(
        "SELECT COALESCE(jsonb_agg(to_jsonb(t){without} ORDER BY to_jsonb(t)::text), '[]') AS rows FROM {table} t WHERE {which}"
    );
    let found = db
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            sql,
            [job.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("job"))?;
    let rows: Value = found.try_get("", "rows")?;
    Ok(TableRows {
        table: table.to_owned(),
        rows: rows.as_array().cloned().unwrap_or_default(),
    })
}

/// Everybody who wrote anything of a job.
const OF_THE_JOB: &str = "t.id IN (SELECT created_by FROM job WHERE id = $1
    UNION SELECT crew_id FROM record WHERE job_id = $1 UNION SELECT crew_id FROM plan WHERE job_id = $1
    UNION SELECT crew_id FROM photo WHERE job_id = $1 UNION SELECT crew_id FROM fitting WHERE job_id = $1
    UNION SELECT l.crew_id FROM hinge_lock l JOIN piece p ON l.piece_id = p.id JOIN side s ON p.parent_id = s.id WHERE s.parent_id = $1)";

impl Store {
    /// A job whole.
    ///
    /// Errors: [`StoreError::NotFound`] where there is no such job.
    pub async fn job_whole(&self, job: Uuid) -> Result<JobWhole, StoreError> {
        let transaction = self
            .db
            .begin_with_config(
                Some(sea_orm::IsolationLevel::RepeatableRead),
                Some(sea_orm::AccessMode::ReadOnly),
            )
            .await?;
        let db = &transaction;
        let mut whole = JobWhole::default();
        whole
            .tables
            .push(rows_of(db, "crew", OF_THE_JOB, "", job).await?);
        for (table, which) in TABLES {
            whole.tables.push(rows_of(db, table, which, "", job).await?);
        }
        if whole.tables[1].rows.is_empty() {
            return Err(StoreError::NotFound("job"));
        }
        let bare = " - 'jpeg' - 'small'";
        whole
            .tables
            .push(rows_of(db, "photo", "t.job_id = $1", bare, job).await?);
        let of_photos = "t.photo_id IN (SELECT id FROM photo WHERE job_id = $1)";
        whole
            .tables
            .push(rows_of(db, "print_art", of_photos, " - 'bytes'", job).await?);
        let rows = record::Entity::find()
            .filter(record::Column::JobId.eq(job))
            .order_by_asc(record::Column::Seq)
            .all(db)
            .await?;
        whole.record = rows
            .into_iter()
            .map(|r| HashedEntry {
                seq: r.seq,
                hash: hex(&r.hash),
                entry: String::from_utf8_lossy(&r.bytes).into_owned(),
            })
            .collect();
        let windows = windows_of(whole.record.iter().map(|e| e.entry.as_str()));
        let read = read_of(db, &windows).await?;
        whole.tables.push(TableRows {
            table: HEAT_READING.into(),
            rows: read.iter().map(row_of_reading).collect(),
        });
        let photos = photo::Entity::find()
            .filter(photo::Column::JobId.eq(job))
            .all(db)
            .await?;
        let keys: Vec<Uuid> = photos.iter().map(|p| p.id).collect();
        for p in photos {
            let of = |what, bytes| JobFile {
                photo: p.id,
                what,
                bytes,
            };
            whole.files.push(of("jpg", p.jpeg));
            whole.files.push(of("small.jpg", p.small));
        }
        let arts = print_art::Entity::find()
            .filter(print_art::Column::PhotoId.is_in(keys))
            .all(db)
            .await?;
        whole.files.extend(arts.into_iter().map(|a| JobFile {
            photo: a.photo_id,
            what: "art",
            bytes: a.bytes,
        }));
        Ok(whole)
    }

    /// Takes in a job that left another Windrift, whole or not at all. Whoever wrote of it there and is not here comes in as a viewer.
    ///
    /// Errors: [`StoreError::IdTaken`] where the job, or a row of it, is here already; [`StoreError::Unreadable`] where a row hangs on another job, or the record's
    /// chain does not come out as it was.
    pub async fn take_in(&self, whole: &JobWhole) -> Result<Uuid, StoreError> {
        let job = belongs_together(whole)?;
        let transaction = self.db.begin().await?;
        let db = &transaction;
        for name in ["crew", "job"] {
            for row in whole.rows(name) {
                match name {
                    "crew" => {
                        // Two shops may each have somebody of one name.
                        let sql = "INSERT INTO crew (id, name, role, position)
                            SELECT r.id, CASE WHEN EXISTS (SELECT FROM crew c WHERE lower(c.name) = lower(r.name) AND c.id <> r.id)
                                THEN left(r.name || ', ' || $2, 60) ELSE r.name END, 'viewer', r.position
                            FROM jsonb_populate_record(NULL::crew, $1) r ON CONFLICT (id) DO NOTHING";
                        let values = vec![row.clone().into(), whole.shop.clone().into()];
                        put(db, sql, values).await?;
                    }
                    _ => put_row(db, name, row).await?,
                }
            }
        }
        for row in whole.rows("photo") {
            let id = id_of(row, "id")?;
            let [jpeg, small] = ["jpg", "small.jpg"].map(|what| whole.file(id, what));
            let (Some(jpeg), Some(small)) = (jpeg, small) else {
                return Err(StoreError::unreadable(
                    "photo",
                    format!("the file of photo {id} is missing"),
                ));
            };
            let sql = "INSERT INTO photo (id, job_id, at, crew_id, width, height, jpeg, small)
                SELECT id, job_id, at, crew_id, width, height, $2, $3 FROM jsonb_populate_record(NULL::photo, $1)";
            put(db, sql, vec![row.clone().into(), jpeg.into(), small.into()]).await?;
        }
        for row in whole.rows("print_art") {
            let id = id_of(row, "photo_id")?;
            let Some(bytes) = whole.file(id, "art") else {
                return Err(StoreError::unreadable(
                    "photo",
                    format!("the print art of {id} is missing"),
                ));
            };
            let sql = "INSERT INTO print_art (photo_id, kind, bytes) SELECT photo_id, kind, $2 FROM jsonb_populate_record(NULL::print_art, $1)";
            put(db, sql, vec![row.clone().into(), bytes.into()]).await?;
        }
        for entry in &whole.record {
            let made = db
                .query_one_raw(Statement::from_sql_and_values(
                    DbBackend::Postgres,
                    "SELECT encode(new_hash, 'hex') AS hash FROM append_record($1, $2)",
                    [job.into(), entry.entry.clone().into_bytes().into()],
                ))
                .await
                .map_err(taken)?
                .ok_or(StoreError::NotFound("job"))?;
            let hash: String = made.try_get("", "hash")?;
            if hash != entry.hash {
                return Err(StoreError::unreadable(
                    "entry",
                    format!("entry {} is not what its hash was made over", entry.seq),
                ));
            }
        }
        let windows = windows_of(whole.record.iter().map(|e| e.entry.as_str()));
        for row in whole.rows(HEAT_READING) {
            let read = id_of(row, "device_id")?;
            let at = row["at"].as_str().unwrap_or_default();
            let at = OffsetDateTime::parse(at, &Rfc3339)
                .map_err(|_| StoreError::unreadable("job", "a reading has no time"))?;
            if !windows.iter().any(|w| w.has(read, at)) {
                return Err(StoreError::unreadable(
                    "job",
                    "a reading of a thermometer belongs to none of its walks",
                ));
            }
            // What a thermometer of this shop read is known here, and to nobody else.
            let sql = "INSERT INTO heat_reading SELECT * FROM jsonb_populate_record(NULL::heat_reading, $1) r
                WHERE NOT EXISTS (SELECT FROM device d WHERE d.id = r.device_id) ON CONFLICT DO NOTHING";
            put(db, sql, vec![row.clone().into()]).await?;
        }
        for (name, _) in &TABLES[1..] {
            for row in whole.rows(name) {
                put_row(db, name, row).await?;
            }
        }
        transaction.commit().await?;
        Ok(job)
    }
}

impl JobWhole {
    /// Rows of a table.
    pub fn rows(&self, table: &str) -> impl Iterator<Item = &Value> {
        let of = self.tables.iter().filter(move |t| t.table == table);
        of.flat_map(|t| &t.rows)
    }

    fn file(&self, photo: Uuid, what: &str) -> Option<Vec<u8>> {
        let found = self
            .files
            .iter()
            .find(|f| f.photo == photo && f.what == what);
        found.map(|f| f.bytes.clone())
    }

    /// The job's key.
    ///
    /// Errors: none, or more than one.
    pub fn job(&self) -> Result<Uuid, StoreError> {
        let mut jobs = self.rows("job");
        match (jobs.next(), jobs.next()) {
            (Some(job), None) => id_of(job, "id"),
            _ => Err(StoreError::unreadable(
                "job",
                "it holds no job, or more than one",
            )),
        }
    }
}

fn id_of(row: &Value, column: &str) -> Result<Uuid, StoreError> {
    row[column]
        .as_str()
        .and_then(|s| s.parse().ok())
        .ok_or_else(|| StoreError::unreadable("job", format!("a row has no {column}")))
}

/// Nothing of it hangs on a job, a side or a piece that is not its own.
fn belongs_together(whole: &JobWhole) -> Result<Uuid, StoreError> {
    let job = whole.job()?;
    let keys = |table: &str| -> Result<BTreeSet<Uuid>, StoreError> {
        whole.rows(table).map(|r| id_of(r, "id")).collect()
    };
    let (jobs, sides, pieces) = (BTreeSet::from([job]), keys("side")?, keys("piece")?);
    let photos = keys("photo")?;
    for (table, column, among) in [
        ("side", "parent_id", &jobs),
        ("marked_vehicle", "parent_id", &jobs),
        ("fitting", "job_id", &jobs),
        ("plan", "job_id", &jobs),
        ("photo", "job_id", &jobs),
        ("feature", "parent_id", &sides),
        ("piece", "parent_id", &sides),
        ("marking", "parent_id", &sides),
        ("hinge_lock", "piece_id", &pieces),
        ("print_art", "photo_id", &photos),
    ] {
        for row in whole.rows(table) {
            if !among.contains(&id_of(row, column)?) {
                return Err(StoreError::unreadable(
                    "job",
                    format!("a row of {table} belongs to another job"),
                ));
            }
        }
    }
    Ok(job)
}

/// A key that is here already is told as such.
fn taken(error: sea_orm::DbErr) -> StoreError {
    match error.sql_err() {
        Some(sea_orm::SqlErr::UniqueConstraintViolation(_)) => StoreError::IdTaken,
        _ => error.into(),
    }
}

async fn put(
    db: &DatabaseTransaction,
    sql: &str,
    values: Vec<sea_orm::Value>,
) -> Result<(), StoreError> {
    db.execute_raw(Statement::from_sql_and_values(
        DbBackend::Postgres,
        sql,
        values,
    ))
    .await
    .map_err(taken)?;
    Ok(())
}

async fn put_row(db: &DatabaseTransaction, table: &str, row: &Value) -> Result<(), StoreError> {
    let sql = format!("INSERT INTO {table} SELECT * FROM jsonb_populate_record(NULL::{table}, $1)");
    put(db, &sql, vec![row.clone().into()]).await
}
