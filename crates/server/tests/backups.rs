//! Backups: of every earlier release, read back, put in the place of newer work that is kept, encrypted, thinned; and refused where
//! they are not whole.

use std::path::Path;
use std::process::{Command, Output};

use sea_orm::{ConnectionTrait, Database};
use serde_json::json;
use uuid::Uuid;
use windrift_store::{EntryKind, NewEntry, Store};
use windrift_testkit::{Cluster, project, small_shop};

/// Steps of migration that there are.
const STEPS: u32 = 20;

fn backup(cluster: &Cluster, owner_url: &str, secret: Option<&Path>, words: &[&str]) -> Output {
    let mut command = Command::new(project().join("tools/backup"));
    command
        .args(words)
        .env("WINDRIFT_ADMIN_URL", &cluster.admin_url)
        .env("WINDRIFT_OWNER_URL", owner_url)
        .env(
            "WINDRIFT_SERVER",
            env!("CARGO_BIN_EXE_windrift-server-tested"),
        )
        .env_remove("WINDRIFT_DATABASE_URL");
    if let Some(secret) = secret {
        command.env("WINDRIFT_PASSPHRASE_FILE", secret);
    }
    command.output().unwrap()
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr)
}

fn went_well(output: &Output) -> String {
    assert!(output.status.success(), "{}", said(output));
    said(output)
}

async fn note(store: &Store, job: Uuid, crew: Uuid, n: u32) {
    let entry = NewEntry {
        id: Uuid::now_v7(),
        kind: EntryKind::Floor,
        crew,
        piece: None,
        body: json!({ "what": "waited", "minutes": n }),
        read_at: None,
    };
    store.append(job, entry).await.unwrap();
}

async fn entries(url: &str, job: Uuid) -> usize {
    let store = Store::connect(url).await.unwrap();
    let n = store.record(job, 0, 1000).await.unwrap().len();
    store.close().await.unwrap();
    n
}

#[rocket::async_test]
async fn a_backup_is_read_back_and_restoring_keeps_the_newer_work_that_it_replaces() {
    let cluster = Cluster::alone().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    note(&store, shop.job, shop.crew[0], 1).await;
    let raw = Database::connect(&cluster.owner_url).await.unwrap();
    raw.execute_unprepared(&format!(
        "INSERT INTO photo (id, job_id, crew_id, width, height, jpeg, small)
         VALUES ('{}', '{}', '{}', 1, 1, decode('ffd800ffd9', 'hex'), decode('ffd8ffd9', 'hex'))",
        Uuid::now_v7(),
        shop.job,
        shop.crew[0]
    ))
    .await
    .unwrap();
    raw.close().await.unwrap();
    let folder = cluster.folder.join("kept");
    std::fs::create_dir(&folder).unwrap();
    let file = folder.join("shop.dump");
    let named = file.to_str().unwrap();
    let told = went_well(&backup(
        &cluster,
        &cluster.owner_url,
        None,
        &["write", named],
    ));
    assert!(
        told.contains("1 jobs, 1 entries of the record: every record whole. 1 photos are there"),
        "{told}"
    );
    use std::os::unix::fs::PermissionsExt;
    assert_eq!(
        std::fs::metadata(&file).unwrap().permissions().mode() & 0o777,
        0o600
    );

    // Newer work, which the restore names and keeps.
    note(&store, shop.job, shop.crew[0], 2).await;
    let refused = backup(&cluster, &cluster.owner_url, None, &["restore", named]);
    assert!(!refused.status.success());
    assert!(
        said(&refused).contains("1 entries and edits were made since"),
        "{}",
        said(&refused)
    );
    assert!(
        said(&refused).contains("Skerry Ferries, Van 3"),
        "{}",
        said(&refused)
    );
    assert_eq!(
        entries(&cluster.app_url, shop.job).await,
        2,
        "nothing was changed"
    );
    let told = went_well(&backup(
        &cluster,
        &cluster.owner_url,
        None,
        &["restore", named, "--yes"],
    ));
    assert_eq!(entries(&cluster.app_url, shop.job).await, 1);
    let kept = told.split("kept in the database ").nth(1).unwrap();
    let kept = kept.trim().trim_end_matches('.');
    let before = format!("{}/{kept}", cluster.app_url.rsplit_once('/').unwrap().0);
    assert_eq!(
        entries(&before, shop.job).await,
        2,
        "what was there is there"
    );
    // The application goes on with what was put back, the server's old connections too.
    note(&store, shop.job, shop.crew[0], 3).await;
    assert_eq!(entries(&cluster.app_url, shop.job).await, 2);
    let audit = store.audit_list(None).await.unwrap();
    assert!(audit[0].about.contains(kept), "{audit:?}");

    // A file that was changed, cut off, or is something else: refused, and nothing is touched.
    let bytes = std::fs::read(&file).unwrap();
    let mut changed = bytes.clone();
    let at = changed.len() * 2 / 3;
    changed[at..at + 40].fill(0);
    for (name, bytes) in [
        ("changed", changed.as_slice()),
        ("cut", &bytes[..bytes.len() / 2]),
        ("other", b"PNG and the like"),
        ("empty", b""),
    ] {
        let bad = folder.join(name);
        std::fs::write(&bad, bytes).unwrap();
        let refused = backup(
            &cluster,
            &cluster.owner_url,
            None,
            &["restore", bad.to_str().unwrap(), "--yes"],
        );
        assert!(!refused.status.success(), "{name}: {}", said(&refused));
        assert_eq!(entries(&cluster.app_url, shop.job).await, 2, "{name}");
    }
    // A record that does not hang together is not passed off as a backup.
    let owner = Database::connect(&cluster.owner_url).await.unwrap();
    owner
        .execute_unprepared(
            "ALTER TABLE record DISABLE TRIGGER record_keeps_rows;
             UPDATE record SET hash = previous WHERE seq = 1;
             ALTER TABLE record ENABLE TRIGGER record_keeps_rows",
        )
        .await
        .unwrap();
    let broken = folder.join("broken.dump");
    let refused = backup(
        &cluster,
        &cluster.owner_url,
        None,
        &["write", broken.to_str().unwrap()],
    );
    assert!(!refused.status.success() && !broken.exists());
    assert!(!folder.join("broken.dump.part").exists());
    assert!(
        said(&refused).contains("not whole at entry 1"),
        "{}",
        said(&refused)
    );
    owner.close().await.unwrap();
}

#[rocket::async_test]
async fn an_encrypted_one_opens_with_its_passphrase_alone_and_older_ones_are_thinned() {
    let cluster = Cluster::alone().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    note(&store, shop.job, shop.crew[0], 1).await;
    let folder = cluster.folder.join("kept");
    let secret = cluster.folder.join("secret");
    std::fs::write(&secret, "tern over the breakwater\n").unwrap();
    // Files of an earlier time, by the hour in their names: two of one day three weeks ago, one of three years ago, one of an hour ago.
    std::fs::create_dir(&folder).unwrap();
    let ago = |days: f64| {
        let at = time::OffsetDateTime::now_utc() - time::Duration::seconds_f64(days * 86400.0);
        let format =
            time::macros::format_description!("[year][month][day]T[hour][minute][second]Z");
        format!("windrift-{}.dump", at.format(format).unwrap())
    };
    // On one day of the count, not over its edge.
    let (young, one, other, old) = (ago(0.05), ago(22.1), ago(22.4), ago(1100.0));
    for name in [&young, &one, &other, &old] {
        std::fs::write(folder.join(name), "x").unwrap();
    }
    std::fs::write(folder.join("windrift-notes.dump"), "mine").unwrap();
    let told = went_well(&backup(
        &cluster,
        &cluster.owner_url,
        Some(&secret),
        &["into", folder.to_str().unwrap()],
    ));
    let there: Vec<String> = std::fs::read_dir(&folder)
        .unwrap()
        .map(|f| f.unwrap().file_name().into_string().unwrap())
        .collect();
    let has = |name: &str| there.iter().any(|t| t == name);
    assert!(
        has(&young) && has(&one) && has("windrift-notes.dump"),
        "{there:?}"
    );
    assert!(!has(&other) && !has(&old), "{there:?} {told}");
    let fresh = there.iter().find(|t| t.ends_with(".dump.gpg")).unwrap();
    let fresh = folder.join(fresh);
    // Nothing of the shop can be read in it; a general tool opens it.
    let bytes = std::fs::read(&fresh).unwrap();
    assert!(
        !bytes
            .windows(6)
            .any(|w| w == b"Skerry" || w == b"PGDMP\x01")
    );
    let restore = |secret| {
        backup(
            &cluster,
            &cluster.owner_url,
            secret,
            &["restore", fresh.to_str().unwrap(), "--yes"],
        )
    };
    let refused = restore(None);
    assert!(
        said(&refused).contains("is encrypted"),
        "{}",
        said(&refused)
    );
    let wrong = cluster.folder.join("wrong");
    std::fs::write(&wrong, "another one\n").unwrap();
    let refused = restore(Some(wrong.as_path()));
    assert!(!refused.status.success() && said(&refused).contains("passphrase is another"));
    went_well(&restore(Some(secret.as_path())));
    assert_eq!(entries(&cluster.app_url, shop.job).await, 1);
}

#[rocket::async_test]
async fn what_every_earlier_release_kept_is_backed_up_and_put_back() {
    let cluster = Cluster::alone().await;
    let folder = cluster.folder.join("kept");
    std::fs::create_dir(&folder).unwrap();
    let admin = Database::connect(&cluster.admin_url).await.unwrap();
    let [crew, job, side] = [(); 3].map(|()| Uuid::now_v7());
    for step in (1..=STEPS).step_by(3).chain([STEPS]) {
        let name = format!("release_{step}");
        for sql in [
            format!("DROP DATABASE IF EXISTS {name}"),
            format!("CREATE DATABASE {name} OWNER windrift_owner"),
        ] {
            admin.execute_unprepared(&sql).await.unwrap();
        }
        let url = format!("{}/{name}", cluster.owner_url.rsplit_once('/').unwrap().0);
        let owner = Store::connect(&url).await.unwrap();
        owner.migrate_steps(step).await.unwrap();
        owner.close().await.unwrap();
        let raw = Database::connect(&url).await.unwrap();
        for sql in [
            "INSERT INTO shop (id, name, settings) VALUES (1, 'Test shop', '{}')".to_owned(),
            format!("INSERT INTO crew (id, name, role, position) VALUES ('{crew}', 'Maren', 'lead', 0)"),
            format!(
                "INSERT INTO job (id, customer, title, vehicle_kind, unit, created_by)
                 VALUES ('{job}', 'Skerry Ferries', 'Release {step}', 'Box truck', 'inch_sixteenth', '{crew}')"
            ),
            format!("INSERT INTO job_head (job_id) VALUES ('{job}') ON CONFLICT DO NOTHING"),
            format!("INSERT INTO side (id, parent_id, spec) VALUES ('{side}', '{job}', '{{}}')"),
        ] {
            raw.execute_unprepared(&sql).await.unwrap();
        }
        raw.close().await.unwrap();
        let file = folder.join(format!("{step}.dump"));
        let named = file.to_str().unwrap();
        went_well(&backup(&cluster, &url, None, &["write", named]));
        went_well(&backup(
            &cluster,
            &cluster.owner_url,
            None,
            &["restore", named, "--yes"],
        ));
        let store = cluster.store().await;
        assert_eq!(
            store.job(job).await.unwrap().job.title,
            format!("Release {step}")
        );
        // Up to date, and the application may write.
        note(&store, job, crew, step).await;
        assert!(!store.is_open().await.unwrap());
        store.close().await.unwrap();
    }
    admin.close().await.unwrap();
}
