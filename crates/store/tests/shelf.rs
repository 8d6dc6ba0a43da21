//! The shelf on a real PostgreSQL: two people who cut from one roll cannot have the same film; entries stay as they were written.

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::StoreError;
use windrift_store::shelf::{NewRollEntry, RollChange};
use windrift_testkit::{Cluster, small_shop};

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn two_people_never_cut_the_same_metre() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let (film, roll) = (Uuid::now_v7(), Uuid::now_v7());
    let crew = shop.crew[0];
    store
        .keep_film(film, crew, json!({ "name": "white" }))
        .await
        .unwrap();
    store
        .keep_roll(roll, film, crew, json!({ "lot": "K-1" }), 1000.0)
        .await
        .unwrap();
    let take = |seen: i32, mm: f64| NewRollEntry {
        id: Uuid::now_v7(),
        roll,
        seen,
        change: RollChange::Take(mm),
        job: Some(shop.job),
        crew,
        spec: json!({}),
    };
    // Eight at once who all saw the same roll: one has it, seven are told.
    let asked: Vec<_> = (0..8)
        .map(|_| {
            let (store, entry) = (store.clone(), take(1, 700.0));
            tokio::spawn(async move { store.enter_rolls(vec![entry]).await })
        })
        .collect();
    let mut got = 0;
    for one in asked {
        match one.await.unwrap() {
            Ok(()) => got += 1,
            Err(StoreError::Stale { revision: 2, .. }) => {}
            Err(other) => panic!("{other:?}"),
        }
    }
    assert_eq!(got, 1);
    let standing = store.roll(roll).await.unwrap();
    assert!((standing.left_mm - 300.0).abs() < 1e-9 && standing.revision == 2);
    // More than is left is not taken, and with another roll in the same go neither is.
    let second = Uuid::now_v7();
    store
        .keep_roll(second, film, crew, json!({}), 500.0)
        .await
        .unwrap();
    let both = vec![
        take(2, 400.0),
        NewRollEntry {
            roll: second,
            seen: 1,
            ..take(1, 100.0)
        },
    ];
    assert!(matches!(
        store.enter_rolls(both).await,
        Err(StoreError::Stale { .. })
    ));
    assert!((store.roll(second).await.unwrap().left_mm - 500.0).abs() < 1e-9);
    // The same entry again changes nothing.
    let once = take(2, 100.0);
    for _ in 0..2 {
        store.enter_rolls(vec![once.clone()]).await.unwrap();
    }
    assert!((store.roll(roll).await.unwrap().left_mm - 200.0).abs() < 1e-9);
    assert_eq!(store.taken_for(shop.job).await.unwrap().len(), 2);
    // Off the shelf, nothing is cut from it.
    store.retire_roll(roll).await.unwrap();
    assert!(matches!(
        store.enter_rolls(vec![take(3, 10.0)]).await,
        Err(StoreError::NotFound("roll"))
    ));
    // What was entered stays as it was written, whoever asks.
    let raw = Database::connect(&cluster.app_url).await.unwrap();
    for sql in [
        "UPDATE roll_entry SET length_mm = 1",
        "DELETE FROM roll_entry",
        "TRUNCATE roll_entry",
    ] {
        assert!(raw.execute_unprepared(sql).await.is_err(), "{sql}");
    }
    let owner = Database::connect(&cluster.owner_url).await.unwrap();
    assert!(
        owner
            .execute_unprepared("DELETE FROM roll_entry")
            .await
            .is_err()
    );
}
