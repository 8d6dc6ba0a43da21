//! Several people at once on a real PostgreSQL: nobody gets an error that is not theirs, limits hold, nothing waits in a circle, and
//! undo never sticks.

use serde_json::{Value, json};
use uuid::Uuid;
use windrift_store::edits::{Change, Edit, RowKind};
use windrift_store::undo::{InTheWay, Step};
use windrift_store::{EntryKind, NewEntry, Store, StoreError};
use windrift_testkit::{Cluster, small_shop, undo};

fn edit(crew: Uuid, kind: RowKind, row: Uuid, change: Change) -> Edit {
    Edit {
        id: Uuid::now_v7(),
        crew,
        kind,
        row,
        change,
    }
}

fn add(crew: Uuid, kind: RowKind, parent: Uuid) -> Edit {
    let spec = json!({ "n": 0 });
    edit(crew, kind, Uuid::now_v7(), Change::Add { parent, spec })
}

async fn all<T: Send + 'static>(tasks: Vec<impl Future<Output = T> + Send + 'static>) -> Vec<T> {
    let tasks: Vec<_> = tasks.into_iter().map(tokio::spawn).collect();
    let mut done = Vec::new();
    for task in tasks {
        done.push(task.await.unwrap());
    }
    done
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn the_same_request_at_once_is_one_and_others_answers_are_their_own() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    for _ in 0..10 {
        // One feature, sent twelve times: six with the same edit, six of others with the same key.
        let first = add(shop.crew[0], RowKind::Feature, shop.side);
        let tries = (0..12).map(|n| {
            let (store, mut edit) = (store.clone(), first.clone());
            if n % 2 == 1 {
                edit.id = Uuid::now_v7();
            }
            async move { store.edit(edit).await }
        });
        let done = all(tries.collect()).await;
        let made = done.iter().filter(|d| d.is_ok()).count();
        assert!(made == 6 || made == 1, "{done:?}");
        assert!(
            done.iter()
                .all(|d| matches!(d, Ok(_) | Err(StoreError::IdTaken))),
            "{done:?}"
        );
        // One job, started eight times.
        let row = windrift_store::entity::job::Model {
            id: Uuid::now_v7(),
            revision: 1,
            customer: "Skerry Ferries".into(),
            title: "Van".into(),
            vehicle_kind: "Van".into(),
            unit: "millimetre".into(),
            created_at: time::OffsetDateTime::now_utc(),
            created_by: shop.crew[0],
            plate: None,
        };
        let tries = (0..8).map(|_| {
            let (store, row) = (store.clone(), row.clone());
            async move { store.start_job(row, Vec::new()).await.map(|j| j.job.id) }
        });
        assert!(all(tries.collect()).await.iter().all(Result::is_ok));
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn moves_in_two_orders_do_not_wait_for_each_other_in_a_circle() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let rows: Vec<Uuid> = (0..6).map(|_| Uuid::now_v7()).collect();
    for row in &rows {
        let spec = json!({ "n": 0 });
        let change = Change::Add {
            parent: shop.side,
            spec,
        };
        store
            .edit(edit(shop.crew[0], RowKind::Piece, *row, change))
            .await
            .unwrap();
    }
    for round in 0..10 {
        let tries = (0..8).map(|n| {
            let (store, mut order) = (store.clone(), rows.clone());
            let crew = shop.crew[n % 2];
            if n % 2 == 1 {
                order.reverse();
            }
            async move {
                let edits = order.into_iter().map(|row| {
                    let change = Change::Replace {
                        seen: round + 1,
                        spec: json!({ "n": round, "by": n }),
                    };
                    edit(crew, RowKind::Piece, row, change)
                });
                store.edit_all(edits.collect()).await
            }
        });
        let done = all(tries.collect()).await;
        assert_eq!(done.iter().filter(|d| d.is_ok()).count(), 1, "{done:?}");
        assert!(
            done.iter()
                .all(|d| matches!(d, Ok(_) | Err(StoreError::Stale { .. }))),
            "{done:?}"
        );
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn sixty_pieces_are_the_most_however_many_come_at_once() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let tries = (0..80).map(|n| {
        let (store, edit) = (
            store.clone(),
            add(shop.crew[n % 2], RowKind::Piece, shop.side),
        );
        async move { store.edit(edit).await }
    });
    let done = all(tries.collect()).await;
    assert_eq!(done.iter().filter(|d| d.is_ok()).count(), 60);
    assert!(
        done.iter()
            .all(|d| matches!(d, Ok(_) | Err(StoreError::Full { most: 60, .. })))
    );
    assert_eq!(store.side(shop.side).await.unwrap().pieces.len(), 60);
}

/// With one connection in all, whatever asks the pool for a second one while it holds the first can only time out.
#[tokio::test]
async fn inside_a_transaction_there_is_only_the_transaction() {
    let cluster = Cluster::start().await;
    let shop = small_shop(&cluster.store().await).await;
    let store = Store::connect_with(&cluster.app_url, 1).await.unwrap();
    let row = Uuid::now_v7();
    let change = |seen, n| Change::Replace {
        seen,
        spec: json!({ "n": n }),
    };
    let spec = json!({ "n": 0 });
    let first = edit(
        shop.crew[0],
        RowKind::Feature,
        row,
        Change::Add {
            parent: shop.side,
            spec,
        },
    );
    store.edit(first.clone()).await.unwrap();
    store.edit(first).await.unwrap();
    store
        .edit(edit(shop.crew[0], RowKind::Feature, row, change(1, 1)))
        .await
        .unwrap();
    // Stale: says who wrote what stands.
    let stale = store
        .edit(edit(shop.crew[1], RowKind::Feature, row, change(1, 2)))
        .await;
    assert!(matches!(stale, Err(StoreError::Stale { by: Some(by), .. }) if by == "Maren"));
    store
        .edit(edit(shop.crew[1], RowKind::Feature, row, change(2, 3)))
        .await
        .unwrap();
    let in_the_way = undo(&store, shop.job, shop.crew[0], true).await;
    assert!(matches!(in_the_way, Err(StoreError::ChangedSince { by, .. }) if by == "Odd"));
    let wrong = store
        .correct_figure("united_states_new", "x", Some(1.0), Some(2.0), shop.crew[0])
        .await;
    assert!(matches!(wrong, Err(StoreError::ChangedSince { .. })));
    let entry = NewEntry {
        id: Uuid::now_v7(),
        kind: EntryKind::Lock,
        crew: shop.crew[0],
        piece: Some(row),
        body: json!({}),
        read_at: None,
    };
    store
        .append_lock(shop.job, entry, json!({}), 1, 1)
        .await
        .unwrap();
    store
        .issue_plan(
            Uuid::now_v7(),
            shop.job,
            shop.crew[0],
            json!({}),
            json!({ "sides": [] }),
        )
        .await
        .unwrap();
    store
        .keep_typeface(Uuid::now_v7(), "Ours", shop.crew[0], vec![1, 2], 40)
        .await
        .unwrap();
    store.check_chain(shop.job).await.unwrap();
}

async fn spec(store: &Store, side: Uuid, row: Uuid) -> Option<Value> {
    let side = store.side(side).await.unwrap();
    side.features
        .into_iter()
        .find(|f| f.id == row)
        .map(|f| f.spec["n"].clone())
}

#[tokio::test]
async fn undo_never_sticks() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let [maren, odd, _] = shop.crew;
    let row = Uuid::now_v7();
    let set = async |crew, n: i32| {
        let seen = store.side(shop.side).await.unwrap().features[0].revision;
        let change = Change::Replace {
            seen,
            spec: json!({ "n": n }),
        };
        store
            .edit(edit(crew, RowKind::Feature, row, change))
            .await
            .unwrap();
    };
    let at = async || spec(&store, shop.side, row).await;
    let own = Change::Add {
        parent: shop.side,
        spec: json!({ "n": 0 }),
    };
    store
        .edit(edit(maren, RowKind::Feature, row, own))
        .await
        .unwrap();
    // Somebody's change that was taken back again is not in the way.
    set(maren, 1).await;
    set(odd, 2).await;
    undo(&store, shop.job, odd, true).await.unwrap();
    undo(&store, shop.job, maren, true).await.unwrap();
    assert_eq!(at().await, Some(json!(0)));
    undo(&store, shop.job, maren, false).await.unwrap();
    assert_eq!(at().await, Some(json!(1)));
    // Mine, theirs, mine: both of mine go back, and then theirs is named, not me.
    set(odd, 2).await;
    set(maren, 3).await;
    undo(&store, shop.job, maren, true).await.unwrap();
    match undo(&store, shop.job, maren, true).await {
        Err(StoreError::ChangedSince { by, current, .. }) => {
            assert_eq!((by.as_str(), current), ("Odd", Some(json!({ "n": 2 }))));
        }
        other => panic!("{other:?}"),
    }
    // What can be done: go back over it ...
    let over = |in_the_way| Step {
        id: Uuid::now_v7(),
        job: shop.job,
        crew: maren,
        back: true,
        in_the_way,
    };
    store.step(over(InTheWay::Over)).await.unwrap();
    assert_eq!(at().await, Some(json!(0)));
    undo(&store, shop.job, maren, false).await.unwrap();
    assert_eq!(at().await, Some(json!(1)));
    // ... or leave this one and take the one before.
    set(odd, 5).await;
    let other = add(maren, RowKind::Feature, shop.side);
    let second = other.row;
    store.edit(other).await.unwrap();
    set(maren, 6).await;
    set(odd, 7).await;
    store.step(over(InTheWay::Leave)).await.unwrap();
    assert_eq!(at().await, Some(json!(7)), "what was left is as it was");
    assert_eq!(
        spec(&store, shop.side, second).await,
        None,
        "the one before was taken"
    );
}

#[tokio::test]
async fn what_was_left_stays_left_though_the_one_before_is_in_the_way_too() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let [maren, odd, _] = shop.crew;
    let mut theirs = Vec::new();
    for _ in 0..2 {
        let mine = add(maren, RowKind::Feature, shop.side);
        theirs.push(mine.row);
        let seen = store.edit(mine).await.unwrap().revision;
        let change = Change::Replace {
            seen,
            spec: json!({ "n": theirs.len() }),
        };
        let row = theirs[theirs.len() - 1];
        store
            .edit(edit(odd, RowKind::Feature, row, change))
            .await
            .unwrap();
    }
    let leave = |id| Step {
        id,
        job: shop.job,
        crew: maren,
        back: true,
        in_the_way: InTheWay::Leave,
    };
    let asked_about = |answer| match answer {
        Err(StoreError::ChangedSince { current, .. }) => current.unwrap()["n"].clone(),
        other => panic!("{other:?}"),
    };
    assert_eq!(asked_about(undo(&store, shop.job, maren, true).await), 2);
    // The newest is left; now the one before is asked about, and sent again that is all it does.
    let first = Uuid::now_v7();
    assert_eq!(asked_about(store.step(leave(first)).await), 1);
    assert_eq!(asked_about(store.step(leave(first)).await), 1);
    assert_eq!(asked_about(undo(&store, shop.job, maren, true).await), 1);
    // That one too: nothing is left to undo, and nothing of theirs was touched.
    for _ in 0..2 {
        let last = store.step(leave(Uuid::now_v7())).await;
        assert!(matches!(last, Err(StoreError::NothingTo("undo"))));
    }
    for (n, row) in theirs.iter().enumerate() {
        let stands = spec(&store, shop.side, *row).await;
        assert_eq!(stands, Some(json!(n + 1)));
    }
}

#[tokio::test]
async fn one_press_of_undo_takes_back_one_edit_however_often_it_is_sent() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    for _ in 0..3 {
        store
            .edit(add(shop.crew[0], RowKind::Feature, shop.side))
            .await
            .unwrap();
    }
    let press = Step {
        id: Uuid::now_v7(),
        job: shop.job,
        crew: shop.crew[0],
        back: true,
        in_the_way: InTheWay::Ask,
    };
    let first = store.step(press).await.unwrap();
    assert_eq!(store.step(press).await.unwrap(), first);
    assert_eq!(store.side(shop.side).await.unwrap().features.len(), 2);
    let redo = Step {
        back: false,
        ..press
    };
    assert!(matches!(store.step(redo).await, Err(StoreError::IdTaken)));
}

#[tokio::test]
async fn of_two_who_open_an_empty_shop_at_once_one_leads() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let lead = |name: &str| windrift_store::entity::crew::Model {
        id: Uuid::now_v7(),
        name: name.into(),
        role: "lead".into(),
        position: 0,
    };
    let (a, b) = (lead("Ragna"), lead("Tove"));
    let open = |who: &windrift_store::entity::crew::Model| {
        store.open_shop("Skerry", serde_json::json!({}), who.clone())
    };
    let (first, second) = tokio::join!(open(&a), open(&b));
    assert_ne!(first.unwrap(), second.unwrap(), "one of them, not both");
    let crew = store.crew().await.unwrap();
    assert_eq!(crew.len(), 1);
    // The answer was lost: the same again is still theirs.
    let theirs = if crew[0].id == a.id { &a } else { &b };
    assert!(open(theirs).await.unwrap());
    assert_eq!(store.crew().await.unwrap().len(), 1);
}
