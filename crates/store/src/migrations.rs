//! Migrations: SQL that only goes forward, each step once.

use sea_orm::{ConnectionTrait, DatabaseConnection, DbBackend, DbErr, Statement, TransactionTrait};

/// The steps in their order: a name that never changes, and the SQL that takes it.
const STEPS: [(&str, &str); 20] = [
    (
        "m20261124_000001_first_tables",
        include_str!("migrations/first_tables.sql"),
    ),
    (
        "m20261125_000002_photos_and_templates",
        include_str!("migrations/photos_and_templates.sql"),
    ),
    (
        "m20261126_000003_typefaces",
        include_str!("migrations/typefaces.sql"),
    ),
    (
        "m20261127_000004_marking",
        include_str!("migrations/marking.sql"),
    ),
    (
        "m20261128_000005_trust",
        include_str!("migrations/trust.sql"),
    ),
    ("m20261129_000006_crew", include_str!("migrations/crew.sql")),
    (
        "m20261130_000007_shelf",
        include_str!("migrations/shelf.sql"),
    ),
    (
        "m20261201_000008_supplies",
        include_str!("migrations/supplies.sql"),
    ),
    (
        "m20261202_000009_print_art",
        include_str!("migrations/print_art.sql"),
    ),
    (
        "m20261203_000010_fitting",
        include_str!("migrations/fitting.sql"),
    ),
    ("m20261204_000011_bay", include_str!("migrations/bay.sql")),
    (
        "m20261205_000012_call_backs",
        include_str!("migrations/call_backs.sql"),
    ),
    (
        "m20261206_000013_sign_in",
        include_str!("migrations/sign_in.sql"),
    ),
    ("m20261207_000014_live", include_str!("migrations/live.sql")),
    (
        "m20261208_000015_links",
        include_str!("migrations/links.sql"),
    ),
    (
        "m20261209_000016_finished",
        include_str!("migrations/finished.sql"),
    ),
    (
        "m20261210_000017_words",
        include_str!("migrations/words.sql"),
    ),
    (
        "m20261211_000018_thermometer",
        include_str!("migrations/thermometer.sql"),
    ),
    (
        "m20261212_000019_removals",
        include_str!("migrations/removals.sql"),
    ),
    (
        "m20261213_000020_names",
        include_str!("migrations/names.sql"),
    ),
];

/// Any number, the same for every server: two that migrate at once go one after the other.
const LOCK: i64 = 5_401_726;

/// Takes the steps that were not taken yet, at most so many, in one transaction: all of them or none.
///
/// Which were taken stands in a table that releases 1 to 5 made through a framework; its name and columns are theirs.
pub(crate) async fn up(db: &DatabaseConnection, most: Option<u32>) -> Result<(), DbErr> {
    let within = db.begin().await?;
    within
        .execute_unprepared(&format!("SELECT pg_advisory_xact_lock({LOCK})"))
        .await?;
    within
        .execute_unprepared(
            "CREATE TABLE IF NOT EXISTS seaql_migrations (version varchar NOT NULL PRIMARY KEY, applied_at bigint NOT NULL)",
        )
        .await?;
    let taken = within
        .query_all_raw(Statement::from_string(
            DbBackend::Postgres,
            "SELECT version FROM seaql_migrations",
        ))
        .await?
        .iter()
        .map(|row| row.try_get::<String>("", "version"))
        .collect::<Result<Vec<_>, _>>()?;
    let open = STEPS
        .iter()
        .filter(|(name, _)| !taken.iter().any(|t| t == name));
    for (name, sql) in open.take(most.map_or(usize::MAX, |n| n as usize)) {
        within.execute_unprepared(sql).await?;
        within
            .execute_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "INSERT INTO seaql_migrations (version, applied_at) VALUES ($1, extract(epoch FROM now())::bigint)",
                [(*name).into()],
            ))
            .await?;
    }
    within.commit().await
}

/// Whether every step was taken.
pub(crate) async fn all_taken(db: &DatabaseConnection) -> Result<bool, DbErr> {
    let row = db
        .query_one_raw(Statement::from_string(
            DbBackend::Postgres,
            "SELECT count(*) AS n FROM seaql_migrations",
        ))
        .await?;
    let n: i64 = match row {
        Some(row) => row.try_get("", "n")?,
        None => 0,
    };
    // A newer Windrift may have taken more beside this one.
    Ok(n >= STEPS.len() as i64)
}
