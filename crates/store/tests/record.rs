//! The record on a real PostgreSQL: append-only at the database, chained, written once.
#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::{EntryKind, NewEntry, StoreError};
use windrift_testkit::{Cluster, small_shop};

fn reading(crew: Uuid, n: u32) -> NewEntry {
    // Keys out of order: JSONB would sort them, the kept bytes must not change.
    NewEntry {
        id: Uuid::now_v7(),
        kind: EntryKind::Reading,
        crew,
        piece: None,
        body: json!({ "z": n, "a": [n, 0.1] }),
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
    let cluster = Cluster::start().await;
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
    let issue = |revisions: serde_json::Value| {
        let store = store.clone();
        async move {
            store
                .issue_plan(
                    Uuid::now_v7(),
                    shop.job,
                    shop.crew[0],
                    revisions,
                    json!({ "version": 1 }),
                )
                .await
                .unwrap()
        }
    };
    let one = issue(json!({ "a": 1 })).await;
    assert_eq!(issue(json!({ "a": 1 })).await.id, one.id);
    let two = issue(json!({ "a": 2 })).await;
    assert_eq!((one.number, two.number), (1, 2));
    assert_eq!(
        store.check_chain(shop.job).await.unwrap().entries,
        2,
        "each plan is in the record"
    );
}
