//! For tests only: databases in a private PostgreSQL cluster that is gone afterwards, and a shop with a crew in it.
#![allow(clippy::panic, clippy::expect_used, clippy::unwrap_used)]

use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::OnceLock;

use sea_orm::{ConnectionTrait, Database};
use time::OffsetDateTime;
use uuid::Uuid;
use windrift_store::edits::EditedRow;
use windrift_store::entity::{crew, job};
use windrift_store::undo::{InTheWay, Step};
use windrift_store::{NewSide, Store, StoreError};

/// A database with the tables in it, gone when dropped: one of its own in the cluster that the whole test program shares, or, for
/// tests that stop and start PostgreSQL, a cluster of its own.
pub struct Cluster {
    /// Where its cluster's data is.
    pub folder: PathBuf,
    /// The administrator's address: makes and drops databases.
    pub admin_url: String,
    /// The owner's address: for migrations.
    pub owner_url: String,
    /// The application's address: owns nothing.
    pub app_url: String,
    /// Its name in the shared cluster; `None` where the cluster is its own.
    shared: Option<String>,
}

/// The project's folder.
pub fn project() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../..")
        .canonicalize()
        .expect("the project's folder")
}

fn cluster_tool(what: &str, folder: &Path) {
    let output = Command::new(project().join("tools/cluster"))
        .arg(what)
        .arg(folder)
        .env("WINDRIFT_CLUSTER_FAST", "1")
        .output()
        .expect("tools/cluster runs");
    assert!(
        output.status.success(),
        "tools/cluster {what}: {}",
        String::from_utf8_lossy(&output.stderr)
    );
}

/// The database that every other one of a test program is copied from.
const TEMPLATE: &str = "windrift";

/// The cluster that a test program shares.
static SHARED: OnceLock<Cluster> = OnceLock::new();

/// The same server, another database.
fn to_database(url: &str, name: &str) -> String {
    format!("{}/{name}", url.rsplit_once('/').expect("an address").0)
}

/// Runs to its end on a thread and a runtime of its own: what the test's runtime holds would end with that test.
fn by_itself<T: Send + 'static>(work: impl Future<Output = T> + Send + 'static) -> T {
    std::thread::spawn(|| {
        tokio::runtime::Builder::new_current_thread()
            .enable_all()
            .build()
            .expect("a runtime")
            .block_on(work)
    })
    .join()
    .expect("the work is done")
}

async fn administer(admin_url: &str, commands: &[String]) {
    let admin = Database::connect(admin_url)
        .await
        .expect("the administrator connects");
    for command in commands {
        admin
            .execute_unprepared(command)
            .await
            .unwrap_or_else(|error| panic!("{command}: {error}"));
    }
    admin.close().await.expect("let go");
}

impl Cluster {
    /// A migrated database of its own in the cluster that the whole test program shares.
    pub async fn start() -> Cluster {
        by_itself(async {
            let shared = SHARED.get_or_init(|| {
                let cluster = by_itself(Cluster::alone());
                stop_with_this_program(&cluster.folder);
                cluster
            });
            let name = format!("w{}", Uuid::now_v7().simple());
            administer(
                &shared.admin_url,
                &[
                    format!("CREATE DATABASE {name} TEMPLATE {TEMPLATE} OWNER windrift_owner"),
                    format!("REVOKE ALL ON DATABASE {name} FROM PUBLIC"),
                    format!("GRANT CONNECT ON DATABASE {name} TO windrift_app"),
                ],
            )
            .await;
            Cluster {
                folder: shared.folder.clone(),
                admin_url: shared.admin_url.clone(),
                owner_url: to_database(&shared.owner_url, &name),
                app_url: to_database(&shared.app_url, &name),
                shared: Some(name),
            }
        })
    }

    /// Makes and starts a cluster in a folder of its own, with the tables in it: for tests that stop it.
    pub async fn alone() -> Cluster {
        let folder = std::env::temp_dir().join(format!("windrift-test-{}", Uuid::now_v7()));
        cluster_tool("start", &folder);
        let settings =
            std::fs::read_to_string(folder.join("env")).expect("the cluster's addresses");
        let setting = |name: &str| {
            settings
                .lines()
                .find_map(|line| line.strip_prefix(name)?.strip_prefix('='))
                .expect("an address")
                .to_owned()
        };
        let cluster = Cluster {
            folder: folder.clone(),
            admin_url: setting("WINDRIFT_ADMIN_URL"),
            owner_url: setting("WINDRIFT_OWNER_URL"),
            app_url: setting("WINDRIFT_DATABASE_URL"),
            shared: None,
        };
        let owner = Store::connect(&cluster.owner_url)
            .await
            .expect("the owner connects");
        owner.migrate().await.expect("migrations");
        // A database that somebody is connected to cannot be copied.
        owner.close().await.expect("let go");
        cluster
    }

    /// Stops PostgreSQL under whoever is connected.
    pub fn stop(&self) {
        assert!(self.shared.is_none(), "others use it too");
        cluster_tool("stop", &self.folder);
    }

    /// Starts it again on the same port.
    pub fn start_again(&self) {
        cluster_tool("start", &self.folder);
    }

    /// The application's store.
    pub async fn store(&self) -> Store {
        Store::connect(&self.app_url)
            .await
            .expect("the application connects")
    }
}

/// A static is never dropped: a process of its own waits for the end of this one, however it ends, and clears up.
fn stop_with_this_program(folder: &Path) {
    use std::os::unix::process::CommandExt;
    let waits = Command::new("sh")
        .args([
            "-c",
            "cat >/dev/null; \"$1\" stop \"$2\"; rm -rf \"$2\"",
            "sh",
        ])
        .arg(project().join("tools/cluster"))
        .arg(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        // Not ended with this program by a Ctrl-C.
        .process_group(0)
        .spawn()
        .expect("sh runs");
    // Its standard input closes when this program ends.
    std::mem::forget(waits);
}

impl Drop for Cluster {
    fn drop(&mut self) {
        if let Some(name) = self.shared.take() {
            let (admin, drop) = (
                self.admin_url.clone(),
                format!("DROP DATABASE IF EXISTS {name} WITH (FORCE)"),
            );
            // Where it cannot be dropped it goes with the cluster.
            let _ = std::thread::spawn(|| {
                let runtime = tokio::runtime::Builder::new_current_thread()
                    .enable_all()
                    .build()?;
                runtime.block_on(async move {
                    if let Ok(admin) = Database::connect(admin).await {
                        let _ = admin.execute_unprepared(&drop).await;
                    }
                });
                Ok::<_, std::io::Error>(())
            })
            .join();
            return;
        }
        let _ = Command::new(project().join("tools/cluster"))
            .arg("stop")
            .arg(&self.folder)
            .output();
        let _ = std::fs::remove_dir_all(&self.folder);
    }
}

/// A small shop: three people, one job with a left side.
pub struct Shop {
    /// Lead, fitter, viewer.
    pub crew: [Uuid; 3],
    /// The job.
    pub job: Uuid,
    /// Its left side.
    pub side: Uuid,
}

/// Sets up a small shop.
pub async fn small_shop(store: &Store) -> Shop {
    let crew = [("Maren", "lead"), ("Odd", "fitter"), ("Vera", "viewer")]
        .map(|(name, role)| (Uuid::now_v7(), name, role));
    store
        .set_up_shop("Test shop", serde_json::json!({}))
        .await
        .expect("a shop");
    for (position, (id, name, role)) in (0..).zip(crew) {
        let member = crew::Model {
            id,
            name: name.into(),
            role: role.into(),
            position,
        };
        store.add_crew(member).await.expect("a crew member");
    }
    let (job, side) = (Uuid::now_v7(), Uuid::now_v7());
    let row = job::Model {
        id: job,
        revision: 1,
        customer: "Skerry Ferries".into(),
        title: "Van 3".into(),
        vehicle_kind: "Box truck".into(),
        unit: "inch_sixteenth".into(),
        created_at: OffsetDateTime::now_utc(),
        created_by: crew[0].0,
        plate: None,
    };
    let spec = serde_json::json!({
        "version": 1, "kind": "left", "facing": "left", "front": "left", "rail": "top rail",
        "body": { "shape": "box", "length_mm": 7315.2, "height_mm": 2184.4, "fall_mm": 0.0 },
        "surface": { "material": "painted_aluminium", "finish": "original" },
    });
    store
        .start_job(
            row,
            vec![NewSide {
                id: side,
                spec,
                features: Vec::new(),
            }],
        )
        .await
        .expect("a job");
    Shop {
        crew: crew.map(|c| c.0),
        job,
        side,
    }
}

/// Takes back or makes again the newest edit of somebody, with a fresh id, asking where another's change stands in the way.
pub async fn undo(
    store: &Store,
    job: Uuid,
    crew: Uuid,
    back: bool,
) -> Result<EditedRow, StoreError> {
    let step = Step {
        id: Uuid::now_v7(),
        job,
        crew,
        back,
        in_the_way: InTheWay::Ask,
    };
    store.step(step).await
}
