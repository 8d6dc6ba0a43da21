//! The record on a real PostgreSQL: append-only at the database, chained, written once.

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::{Broken, EntryKind, NewEntry, StoreError};
use windrift_testkit::{Cluster, small_shop};

fn reading(crew: Uuid, n: u32) -> NewEntry {
    // Keys out of order: JSONB would sort them, the kept bytes must not change.
    NewEntry {
        id: Uuid::now_v7(),
        kind: EntryKind::Reading,
        crew,
        piece: None,
        body: json!({ "z": n, "a": [n, 0.1] }),
        read_at: None,
    }
}

#[tokio::test]
async fn entries_are_chained_once_each_even_when_written_at_the_same_time() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let first = reading(shop.crew[0], 0);
    let written = store.append(shop.job, first.clone()).await.unwrap();
    assert_eq!(
        store.append(shop.job, first).await.unwrap(),
        written,
        "a repeated request is not recorded twice"
    );
    let writers: Vec<_> = (1..=20)
        .map(|n| {
            let (store, job, crew) = (store.clone(), shop.job, shop.crew[0]);
            tokio::spawn(async move { store.append(job, reading(crew, n)).await.map(|e| e.seq) })
        })
        .collect();
    let mut seqs = vec![written.seq];
    for writer in writers {
        seqs.push(writer.await.unwrap().unwrap());
    }
    seqs.sort_unstable();
    assert_eq!(seqs, (1..=21).collect::<Vec<_>>());
    let check = store.check_chain(shop.job).await.unwrap();
    assert_eq!((check.entries, check.broken_at), (21, None));
    assert_eq!(
        store.record(shop.job, 20, 10).await.unwrap()[0].hash,
        check.latest
    );
    assert!(matches!(
        store.append(Uuid::now_v7(), reading(shop.crew[0], 1)).await,
        Err(StoreError::NotFound("job"))
    ));
}

#[tokio::test]
async fn neither_the_application_nor_the_owner_can_change_an_entry_and_a_forged_one_is_found() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    for n in 0..5 {
        store
            .append(shop.job, reading(shop.crew[0], n))
            .await
            .unwrap();
    }
    let app = Database::connect(&cluster.app_url).await.unwrap();
    let owner = Database::connect(&cluster.owner_url).await.unwrap();
    for sql in [
        "UPDATE record SET kind = 'lock'",
        "DELETE FROM record",
        "TRUNCATE record",
    ] {
        let refused = app.execute_unprepared(sql).await.unwrap_err().to_string();
        assert!(refused.contains("permission denied"), "{sql}: {refused}");
        let refused = owner.execute_unprepared(sql).await.unwrap_err().to_string();
        assert!(refused.contains("append-only"), "{sql}: {refused}");
    }
    for sql in [
        "DROP TABLE record",
        "ALTER TABLE record DISABLE TRIGGER ALL",
        "DELETE FROM plan",
        "DELETE FROM edit",
        // What people did stays as it was written, and so do who they are and where the chain ends.
        "UPDATE edit SET before = '{}'",
        "UPDATE edit SET crew_id = crew_id",
        "TRUNCATE edit",
        "UPDATE job_head SET last_seq = 0",
        "INSERT INTO record SELECT * FROM record",
        "UPDATE crew SET role = 'lead'",
        "UPDATE plan SET number = 9",
        "DELETE FROM edit_step",
    ] {
        assert!(app.execute_unprepared(sql).await.is_err(), "{sql}");
    }
    assert_eq!(store.check_chain(shop.job).await.unwrap().broken_at, None);
    // Somebody who owns the tables takes the trigger off and writes: the chain shows where.
    owner
        .execute_unprepared("ALTER TABLE record DISABLE TRIGGER record_keeps_rows; UPDATE record SET bytes = replace(encode(bytes, 'escape'), '\"z\":2', '\"z\":9')::bytea WHERE seq = 3")
        .await
        .unwrap();
    assert_eq!(
        store.check_chain(shop.job).await.unwrap().broken_at,
        Some(3)
    );
}

#[tokio::test]
async fn postgresql_stopped_is_told_apart_and_the_store_recovers_by_itself() {
    let cluster = Cluster::alone().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    cluster.stop();
    for _ in 0..3 {
        let away = store.append(shop.job, reading(shop.crew[0], 1)).await;
        assert!(matches!(away, Err(StoreError::Unreachable(_))), "{away:?}");
    }
    cluster.start_again();
    assert_eq!(
        store
            .append(shop.job, reading(shop.crew[0], 2))
            .await
            .unwrap()
            .seq,
        1
    );
}

#[tokio::test]
async fn an_issued_plan_pins_its_revisions_and_is_issued_anew_only_after_a_change() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let issue = |revision: i32, unit: &'static str| {
        let store = store.clone();
        async move {
            let revisions = json!({ "a": revision });
            // Numbers that JSONB writes in another way than they were given.
            let snapshot =
                json!({ "version": 2, "unit": unit, "sides": [-0.0, 1e-9, 1e21, 0.1 + 0.2] });
            store
                .issue_plan(Uuid::now_v7(), shop.job, shop.crew[0], revisions, snapshot)
                .await
                .unwrap()
        }
    };
    let one = issue(1, "millimetre").await;
    assert_eq!(issue(1, "millimetre").await.id, one.id);
    // Changed and taken back again: what would be frozen is the same.
    assert_eq!(issue(3, "millimetre").await.id, one.id);
    // Another unit is another plan, though no row was touched.
    let two = issue(1, "inch_sixteenth").await;
    assert_eq!((one.number, two.number), (1, 2));
    assert!(store.plan_is_whole(two.id).await.unwrap());
    assert_eq!(
        store.check_chain(shop.job).await.unwrap().entries,
        2,
        "each plan is in the record"
    );
}

/// Everything that can be done to a kept entry from outside is found: each column, bytes, places, and what is cut off at the end.
#[tokio::test]
async fn whatever_is_done_to_a_record_is_found() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let owner = Database::connect(&cluster.owner_url).await.unwrap();
    owner
        .execute_unprepared("ALTER TABLE record DISABLE TRIGGER USER")
        .await
        .unwrap();
    let (odd, other) = (shop.crew[1], Uuid::now_v7());
    for (sql, why, at) in [
        (
            format!("UPDATE record SET crew_id = '{odd}' WHERE seq = 2"),
            Broken::Column,
            2,
        ),
        (
            "UPDATE record SET at = at + interval '1 hour' WHERE seq = 2".into(),
            Broken::Column,
            2,
        ),
        (
            "UPDATE record SET kind = 'lock' WHERE seq = 3".into(),
            Broken::Column,
            3,
        ),
        (
            format!("UPDATE record SET piece_id = '{other}' WHERE seq = 1"),
            Broken::Column,
            1,
        ),
        (
            format!("UPDATE record SET id = '{other}' WHERE seq = 1"),
            Broken::Column,
            1,
        ),
        (
            "UPDATE record SET bytes = bytes || ' '::bytea WHERE seq = 4".into(),
            Broken::Changed,
            4,
        ),
        (
            "UPDATE record SET previous = sha256(previous) WHERE seq = 2".into(),
            Broken::Changed,
            2,
        ),
        (
            "UPDATE record SET hash = sha256(hash) WHERE seq = 5".into(),
            Broken::Changed,
            5,
        ),
        (
            "DELETE FROM record WHERE seq = 3".into(),
            Broken::Missing,
            3,
        ),
        (
            "UPDATE record SET seq = seq + 10 WHERE seq = 5".into(),
            Broken::Missing,
            5,
        ),
        ("DELETE FROM record WHERE seq = 5".into(), Broken::End, 5),
        ("DELETE FROM record WHERE seq > 3".into(), Broken::End, 4),
        ("DELETE FROM record".into(), Broken::End, 1),
        ("UPDATE job_head SET last_seq = 4".into(), Broken::End, 6),
    ] {
        let job = Uuid::now_v7();
        let row = windrift_store::entity::job::Model {
            id: job,
            revision: 1,
            customer: "Skerry Ferries".into(),
            title: "Van 4".into(),
            vehicle_kind: "Box truck".into(),
            unit: "inch_sixteenth".into(),
            created_at: time::OffsetDateTime::now_utc(),
            created_by: shop.crew[0],
            plate: None,
        };
        store.start_job(row, Vec::new()).await.unwrap();
        for n in 0..5 {
            store.append(job, reading(shop.crew[0], n)).await.unwrap();
        }
        assert_eq!(store.check_chain(job).await.unwrap().why, None);
        let of_job = match sql.contains(" WHERE ") {
            true => format!("{sql} AND job_id = '{job}'"),
            false => format!("{sql} WHERE job_id = '{job}'"),
        };
        owner.execute_unprepared(&of_job).await.unwrap();
        let check = store.check_chain(job).await.unwrap();
        assert_eq!((check.why, check.broken_at), (Some(why), Some(at)), "{sql}");
        owner
            .execute_unprepared(&format!("DELETE FROM record WHERE job_id = '{job}'"))
            .await
            .unwrap();
    }
    // A chain that is rewritten whole hangs together: only what was printed of it before tells.
    let (first, second) = (reading(shop.crew[0], 1), reading(shop.crew[0], 2));
    store.append(shop.job, first).await.unwrap();
    let printed = store.append(shop.job, second).await.unwrap();
    assert!(
        store
            .has_hash(shop.job, 2, &printed.hash[..16])
            .await
            .unwrap()
    );
    owner
        .execute_unprepared(&format!(
            "DELETE FROM record WHERE job_id = '{0}'; UPDATE job_head SET last_seq = 0, last_hash = decode(repeat('00', 32), 'hex') WHERE job_id = '{0}'",
            shop.job
        ))
        .await
        .unwrap();
    for n in 7..9 {
        store
            .append(shop.job, reading(shop.crew[0], n))
            .await
            .unwrap();
    }
    assert_eq!(store.check_chain(shop.job).await.unwrap().why, None);
    assert!(
        !store
            .has_hash(shop.job, 2, &printed.hash[..16])
            .await
            .unwrap()
    );
}

/// One entry that nobody can read does not hold up the others.
#[tokio::test]
async fn an_entry_that_cannot_be_read_is_shown_as_it_is_kept() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let app = Database::connect(&cluster.app_url).await.unwrap();
    store
        .append(shop.job, reading(shop.crew[0], 1))
        .await
        .unwrap();
    // As a newer release might write it: of a kind that this one does not know.
    app.execute_unprepared(&format!(
        "SELECT append_record('{}', convert_to('{{\"id\":\"{}\",\"at\":\"2026-11-25T08:00:00Z\",\"crew\":\"{}\",\"kind\":\"weather\",\"body\":{{\"wind\":7}}}}', 'UTF8'))",
        shop.job, Uuid::now_v7(), shop.crew[0]
    ))
    .await
    .unwrap();
    store
        .append(shop.job, reading(shop.crew[0], 2))
        .await
        .unwrap();
    let entries = store.record(shop.job, 0, 10).await.unwrap();
    assert_eq!(entries.len(), 3);
    assert_eq!(entries[1].kind, EntryKind::Unreadable);
    assert!(entries[1].body.as_str().unwrap().contains("\"wind\":7"));
    assert_eq!(store.check_chain(shop.job).await.unwrap().why, None);
}
