//! The real interface in headless Chromium: this test starts a cluster, loads the demo, starts the server, and lets Playwright
//! drive it. Needs what `./windrift test` installs and builds.

use std::net::{TcpListener, TcpStream};
use std::path::Path;
use std::process::{Child, Command};
use std::time::Duration;

use windrift_server::demo;
use windrift_testkit::{Cluster, project};

struct Server(Child);

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Starts a server on a database and waits until it listens.
fn serve(database: &str, web: &Path, said: &Path) -> (Server, u16) {
    // A free port, given back a moment before the server takes it.
    let port = TcpListener::bind("127.0.0.1:0")
        .unwrap()
        .local_addr()
        .unwrap()
        .port();
    let server = Server(
        Command::new(env!("CARGO_BIN_EXE_windrift-server-tested"))
            .arg("serve")
            .env("WINDRIFT_DATABASE_URL", database)
            .env("WINDRIFT_PORT", port.to_string())
            .env("WINDRIFT_WEB", web)
            .stderr(std::fs::File::create(said).unwrap())
            .spawn()
            .unwrap(),
    );
    let answers = (0..100).any(|_| {
        std::thread::sleep(Duration::from_millis(100));
        TcpStream::connect(("127.0.0.1", port)).is_ok()
    });
    assert!(answers, "the server listens");
    (server, port)
}

#[rocket::async_test]
async fn the_interface_in_a_real_browser() {
    let web = project().join("web/dist");
    assert!(
        web.join("index.html").exists(),
        "The web application is not built: run ./windrift test, which builds it."
    );
    let cluster = Cluster::alone().await;
    demo::load(&cluster.store().await, &project().join("demo"))
        .await
        .unwrap();
    let said = cluster.folder.join("server.log");
    let (_server, port) = serve(&cluster.app_url, &web, &said);
    // A shop of its own with nothing in it: what a new user meets first.
    let empty = Cluster::start().await;
    let said_there = empty.folder.join("first-run.log");
    let (_first, first_port) = serve(&empty.app_url, &web, &said_there);
    let status = Command::new("npx")
        .args(["--no-install", "playwright", "test"])
        .args(std::env::var("WINDRIFT_BROWSER_TESTS").ok())
        .current_dir(project().join("e2e"))
        .env("WINDRIFT_URL", format!("http://127.0.0.1:{port}"))
        .env(
            "WINDRIFT_EMPTY_URL",
            format!("http://127.0.0.1:{first_port}"),
        )
        .env("WINDRIFT_CLUSTER", &cluster.folder)
        .env("WINDRIFT_CLUSTER_FAST", "1")
        .status()
        .expect("npx runs");
    assert!(
        status.success(),
        "the browser tests failed; their output is above"
    );
    // A panic anywhere fails the suite, whatever the browser was told.
    for log in [said, said_there] {
        let said = std::fs::read_to_string(&log).unwrap();
        assert!(!said.contains("panicked"), "{said}");
    }
}
