//! Migrations on a database that an earlier release filled: nothing is lost, and what is new works on what was there.
#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::edits::{Change, Edit, RowKind};
use windrift_store::{EntryKind, NewEntry, Store};
use windrift_testkit::{Cluster, small_shop};

#[tokio::test]
async fn a_database_of_the_first_tables_goes_on() {
    let cluster = Cluster::start().await;
    let settings = std::fs::read_to_string(cluster.folder.join("env")).unwrap();
    let admin = settings
        .lines()
        .find_map(|l| l.strip_prefix("WINDRIFT_ADMIN_URL="))
        .unwrap();
    let admin = Database::connect(admin).await.unwrap();
    for sql in [
        "CREATE DATABASE earlier OWNER windrift_owner",
        "GRANT CONNECT ON DATABASE earlier TO windrift_app",
    ] {
        admin.execute_unprepared(sql).await.unwrap();
    }
    let earlier = |url: &str| format!("{}/earlier", url.rsplit_once('/').unwrap().0);
    let owner = Store::connect(&earlier(&cluster.owner_url)).await.unwrap();
    owner.migrate_steps(1).await.unwrap();
    // As the first release left it: a job with a side, a feature whose edit can be undone, an entry in its record.
    let raw = Database::connect(earlier(&cluster.owner_url))
        .await
        .unwrap();
    let app = Store::connect(&earlier(&cluster.app_url)).await.unwrap();
    let shop = small_shop(&app).await;
    let (feature, edit) = (Uuid::now_v7(), Uuid::now_v7());
    for sql in [
        format!(
            "INSERT INTO feature (id, parent_id, spec) VALUES ('{feature}', '{}', '{{\"n\": 1}}')",
            shop.side
        ),
        format!(
            "INSERT INTO edit (id, job_id, crew_id, kind, row_id, parent_id, after, left_revision)
             VALUES ('{edit}', '{}', '{}', 'feature', '{feature}', '{}', '{{\"n\": 1}}', 1)",
            shop.job, shop.crew[0], shop.side
        ),
    ] {
        raw.execute_unprepared(&sql).await.unwrap();
    }
    let entry = NewEntry {
        id: Uuid::now_v7(),
        kind: EntryKind::Reading,
        crew: shop.crew[0],
        piece: None,
        body: json!({ "read": 1 }),
    };
    app.append(shop.job, entry).await.unwrap();

    owner.migrate().await.unwrap();
    let rows = app.side(shop.side).await.unwrap();
    assert_eq!((rows.features.len(), rows.features[0].id), (1, feature));
    assert_eq!(app.check_chain(shop.job).await.unwrap().entries, 1);
    // An edit from before is still undone, and made again.
    app.undo(shop.job, shop.crew[0]).await.unwrap();
    assert!(app.side(shop.side).await.unwrap().features.is_empty());
    app.redo(shop.job, shop.crew[0]).await.unwrap();
    // And what is new goes in one batch beside it.
    let add = |row| Edit {
        id: Uuid::now_v7(),
        crew: shop.crew[0],
        kind: RowKind::Feature,
        row,
        change: Change::Add {
            parent: shop.side,
            spec: json!({ "n": 2 }),
        },
    };
    app.edit_all(vec![add(Uuid::now_v7()), add(Uuid::now_v7())])
        .await
        .unwrap();
    assert_eq!(app.side(shop.side).await.unwrap().features.len(), 3);
    app.undo(shop.job, shop.crew[0]).await.unwrap();
    assert_eq!(app.side(shop.side).await.unwrap().features.len(), 1);
}
