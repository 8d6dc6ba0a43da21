//! Edited rows on a real PostgreSQL: revisions, repeated requests, undo and redo.

use serde_json::{Value, json};
use uuid::Uuid;
use windrift_store::edits::{Change, Edit, RowKind};
use windrift_store::{Store, StoreError};
use windrift_testkit::{Cluster, small_shop, undo};

fn edit(crew: Uuid, row: Uuid, change: Change) -> Edit {
    Edit {
        id: Uuid::now_v7(),
        crew,
        kind: RowKind::Feature,
        row,
        change,
    }
}

async fn spec(store: &Store, side: Uuid, row: Uuid) -> Option<Value> {
    store
        .side(side)
        .await
        .unwrap()
        .features
        .into_iter()
        .find(|f| f.id == row)
        .map(|f| f.spec)
}

#[tokio::test]
async fn a_stale_write_is_refused_with_both_versions_and_a_repeated_one_is_known() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let [maren, odd, _] = shop.crew;
    let row = Uuid::now_v7();
    let first = edit(
        maren,
        row,
        Change::Add {
            parent: shop.side,
            spec: json!({ "n": 1 }),
        },
    );
    assert_eq!(store.edit(first.clone()).await.unwrap().revision, 1);
    // The network blinked: the same request again adds nothing.
    assert_eq!(store.edit(first).await.unwrap().revision, 1);
    assert_eq!(store.side(shop.side).await.unwrap().features.len(), 1);

    let by_maren = edit(
        maren,
        row,
        Change::Replace {
            seen: 1,
            spec: json!({ "n": 2 }),
        },
    );
    assert_eq!(store.edit(by_maren.clone()).await.unwrap().revision, 2);
    let late = store
        .edit(edit(
            odd,
            row,
            Change::Replace {
                seen: 1,
                spec: json!({ "n": 3 }),
            },
        ))
        .await;
    match late {
        Err(StoreError::Stale {
            revision: 2,
            current,
            by,
        }) => {
            assert_eq!((current, by.as_deref()), (json!({ "n": 2 }), Some("Maren")));
        }
        other => panic!("{other:?}"),
    }
    assert_eq!(
        store.edit(by_maren).await.unwrap().revision,
        2,
        "repeated, not stale"
    );
    assert!(matches!(
        store.edit(edit(odd, row, Change::Remove { seen: 1 })).await,
        Err(StoreError::Stale { .. })
    ));
    assert_eq!(spec(&store, shop.side, row).await, Some(json!({ "n": 2 })));
    let nowhere = edit(
        odd,
        Uuid::now_v7(),
        Change::Add {
            parent: Uuid::now_v7(),
            spec: json!({}),
        },
    );
    assert!(matches!(
        store.edit(nowhere).await,
        Err(StoreError::NotFound("side"))
    ));
}

#[tokio::test]
async fn of_many_writers_at_once_exactly_one_wins_each_revision() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let row = Uuid::now_v7();
    store
        .edit(edit(
            shop.crew[0],
            row,
            Change::Add {
                parent: shop.side,
                spec: json!({ "n": 0 }),
            },
        ))
        .await
        .unwrap();
    let writers = (1..=8).map(|n| {
        let store = store.clone();
        let crew = shop.crew[n % 2];
        tokio::spawn(async move {
            store
                .edit(edit(
                    crew,
                    row,
                    Change::Replace {
                        seen: 1,
                        spec: json!({ "n": n }),
                    },
                ))
                .await
                .is_ok()
        })
    });
    let mut won = 0;
    for writer in writers.collect::<Vec<_>>() {
        won += usize::from(writer.await.unwrap());
    }
    assert_eq!(won, 1);
}

#[tokio::test]
async fn undo_and_redo_walk_a_persons_own_edits_and_stop_at_somebody_elses() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let [maren, odd, _] = shop.crew;
    let row = Uuid::now_v7();
    store
        .edit(edit(
            maren,
            row,
            Change::Add {
                parent: shop.side,
                spec: json!(1),
            },
        ))
        .await
        .unwrap();
    for n in [2, 3] {
        store
            .edit(edit(
                maren,
                row,
                Change::Replace {
                    seen: n - 1,
                    spec: json!(n),
                },
            ))
            .await
            .unwrap();
    }
    // Back to nothing, and forward to the end again.
    for expected in [Some(json!(2)), Some(json!(1)), None] {
        undo(&store, shop.job, maren, true).await.unwrap();
        assert_eq!(spec(&store, shop.side, row).await, expected);
    }
    assert!(matches!(
        undo(&store, shop.job, maren, true).await,
        Err(StoreError::NothingTo("undo"))
    ));
    for expected in [json!(1), json!(2), json!(3)] {
        undo(&store, shop.job, maren, false).await.unwrap();
        assert_eq!(spec(&store, shop.side, row).await, Some(expected));
    }
    assert!(matches!(
        undo(&store, shop.job, maren, false).await,
        Err(StoreError::NothingTo("redo"))
    ));

    let revision = store.side(shop.side).await.unwrap().features[0].revision;
    store
        .edit(edit(
            odd,
            row,
            Change::Replace {
                seen: revision,
                spec: json!("Odd's"),
            },
        ))
        .await
        .unwrap();
    match undo(&store, shop.job, maren, true).await {
        Err(StoreError::ChangedSince { by, what, .. }) => {
            assert_eq!((by.as_str(), what.as_str()), ("Odd", "feature"))
        }
        other => panic!("{other:?}"),
    }
    assert_eq!(
        spec(&store, shop.side, row).await,
        Some(json!("Odd's")),
        "nothing was lost"
    );
    undo(&store, shop.job, odd, true).await.unwrap();
    assert_eq!(spec(&store, shop.side, row).await, Some(json!(3)));

    // Removing is an edit like any other.
    let revision = store.side(shop.side).await.unwrap().features[0].revision;
    store
        .edit(edit(odd, row, Change::Remove { seen: revision }))
        .await
        .unwrap();
    assert_eq!(spec(&store, shop.side, row).await, None);
    undo(&store, shop.job, odd, true).await.unwrap();
    assert_eq!(spec(&store, shop.side, row).await, Some(json!(3)));
}
