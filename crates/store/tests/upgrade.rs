//! Migrations on a database that an earlier release filled: nothing is lost, and what is new works on what was there.

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::Store;
use windrift_store::edits::{Change, Edit, RowKind};
use windrift_store::marking::one_of;
use windrift_testkit::{Cluster, Shop, undo};

#[tokio::test]
async fn a_database_of_the_first_tables_goes_on() {
    let cluster = Cluster::alone().await;
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
    // By SQL: today's code reads tables that the first release did not have.
    let shop = Shop {
        crew: [Uuid::now_v7(); 3],
        job: Uuid::now_v7(),
        side: Uuid::now_v7(),
    };
    let (crew, job, side) = (shop.crew[0], shop.job, shop.side);
    for sql in [
        "INSERT INTO shop (id, name, settings) VALUES (1, 'Test shop', '{}')".to_owned(),
        format!(
            "INSERT INTO crew (id, name, role, position) VALUES ('{crew}', 'Maren', 'lead', 0)"
        ),
        format!(
            "INSERT INTO job (id, customer, title, vehicle_kind, unit, created_by)
             VALUES ('{job}', 'Skerry Ferries', 'Van 3', 'Box truck', 'inch_sixteenth', '{crew}')"
        ),
        format!("INSERT INTO job_head (job_id) VALUES ('{job}')"),
        format!("INSERT INTO side (id, parent_id, spec) VALUES ('{side}', '{job}', '{{}}')"),
    ] {
        raw.execute_unprepared(&sql).await.unwrap();
    }
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
    let entry = format!(
        "{{\"id\":\"{}\",\"at\":\"2026-01-05T08:00:00Z\",\"crew\":\"{crew}\",\"kind\":\"reading\",\"piece\":null,\"body\":{{\"read\":1}}}}",
        Uuid::now_v7()
    );
    raw.execute_unprepared(&format!(
        "WITH e AS (SELECT convert_to('{entry}', 'UTF8') AS bytes, decode(repeat('00', 32), 'hex') AS none),
         h AS (SELECT bytes, none, sha256(none || uuid_send('{job}') || int8send(1) || bytes) AS hash FROM e),
         r AS (INSERT INTO record (job_id, seq, id, at, crew_id, kind, bytes, previous, hash)
               SELECT '{job}', 1, (convert_from(bytes, 'UTF8')::jsonb->>'id')::uuid, '2026-01-05T08:00:00Z', '{crew}', 'reading', bytes, none, hash FROM h)
         UPDATE job_head SET last_seq = 1, last_hash = (SELECT hash FROM h) WHERE job_id = '{job}'"
    ))
    .await
    .unwrap();

    owner.migrate().await.unwrap();
    let rows = app.side(shop.side).await.unwrap();
    assert_eq!((rows.features.len(), rows.features[0].id), (1, feature));
    let check = app.check_chain(shop.job).await.unwrap();
    assert_eq!((check.entries, check.broken_at), (1, None));
    // An edit from before is still undone, and made again.
    undo(&app, shop.job, shop.crew[0], true).await.unwrap();
    assert!(app.side(shop.side).await.unwrap().features.is_empty());
    undo(&app, shop.job, shop.crew[0], false).await.unwrap();
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
    undo(&app, shop.job, shop.crew[0], true).await.unwrap();
    assert_eq!(app.side(shop.side).await.unwrap().features.len(), 1);
    // A marking stands beside what was there, and is undone like it.
    let marking = Edit {
        id: Uuid::now_v7(),
        crew: shop.crew[0],
        kind: RowKind::Marking,
        row: one_of(shop.side),
        change: Change::Add {
            parent: shop.side,
            spec: json!({ "ground_mm": 1000.0 }),
        },
    };
    app.edit(marking).await.unwrap();
    assert!(app.side(shop.side).await.unwrap().marking.is_some());
    undo(&app, shop.job, shop.crew[0], true).await.unwrap();
    assert!(app.side(shop.side).await.unwrap().marking.is_none());
}
