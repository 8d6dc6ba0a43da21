//! For tests only: a private PostgreSQL cluster that is gone afterwards, and a shop with a crew in it.
#![allow(clippy::panic, clippy::expect_used, clippy::unwrap_used)]

use std::path::{Path, PathBuf};
use std::process::Command;

use time::OffsetDateTime;
use uuid::Uuid;
use windrift_store::edits::EditedRow;
use windrift_store::entity::{crew, job};
use windrift_store::undo::{InTheWay, Step};
use windrift_store::{NewSide, Store, StoreError};

/// A private PostgreSQL cluster. Stopped and removed when dropped.
pub struct Cluster {
    /// Where its data is.
    pub folder: PathBuf,
    /// The owner's address: for migrations.
    pub owner_url: String,
    /// The application's address: owns nothing.
    pub app_url: String,
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

impl Cluster {
    /// Makes and starts a cluster in a folder of its own, with the tables in it.
    pub async fn start() -> Cluster {
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
            owner_url: setting("WINDRIFT_OWNER_URL"),
            app_url: setting("WINDRIFT_DATABASE_URL"),
        };
        Store::connect(&cluster.owner_url)
            .await
            .expect("the owner connects")
            .migrate()
            .await
            .expect("migrations");
        cluster
    }

    /// Stops PostgreSQL under whoever is connected.
    pub fn stop(&self) {
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

impl Drop for Cluster {
    fn drop(&mut self) {
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
