//! The program's commands. They live in the library: what a program of its own would compile anew is compiled once.

use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::time::Duration;

use windrift_store::Store;

use crate::{Setup, bundle, demo, door, openapi, secret, serve, stand_in, worker};

fn setting(name: &str) -> Result<String, String> {
    std::env::var(name).map_err(|_| format!("{name} is not set. Start Windrift with ./windrift demo or ./windrift serve, which set it."))
}

async fn run() -> Result<(), String> {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let arguments: Vec<&str> = arguments.iter().map(String::as_str).collect();
    let words = |e: windrift_store::StoreError| e.to_string();
    match arguments.as_slice() {
        ["openapi"] => {
            println!(
                "{}",
                serde_json::to_string_pretty(&openapi::document()).map_err(|e| e.to_string())?
            );
            Ok(())
        }
        ["schema"] => {
            println!(
                "{}",
                serde_json::to_string_pretty(&openapi::template_schema())
                    .map_err(|e| e.to_string())?
            );
            Ok(())
        }
        ["film-schema"] => {
            println!(
                "{}",
                serde_json::to_string_pretty(&openapi::film_schema()).map_err(|e| e.to_string())?
            );
            Ok(())
        }
        ["bundle-schema"] => {
            println!(
                "{}",
                serde_json::to_string_pretty(&openapi::bundle_schema())
                    .map_err(|e| e.to_string())?
            );
            Ok(())
        }
        ["verify", file] => {
            let bytes = std::fs::read(file).map_err(|e| format!("{file} cannot be read: {e}."))?;
            let found = bundle::verify(&bytes)?;
            if found.wrong.is_empty() {
                println!("{}", found.says);
                return Ok(());
            }
            Err(format!("{} {}", found.says, found.wrong.join(" ")))
        }
        ["migrate"] => Store::connect_within(&setting("WINDRIFT_OWNER_URL")?, PATIENCE)
            .await
            .map_err(words)?
            .migrate()
            .await
            .map_err(words),
        ["demo", folder] => {
            let store = Store::connect_within(&setting("WINDRIFT_DATABASE_URL")?, PATIENCE)
                .await
                .map_err(words)?;
            demo::load(&store, Path::new(folder))
                .await
                .map_err(|e| e.to_string())
        }
        ["serve"] => {
            // As many as the system lets us: with fewer the door waits until some are free again.
            let _ = rlimit::increase_nofile_limit(door::HANDLES);
            let connections = match std::env::var("WINDRIFT_POOL") {
                Ok(n) => (n.parse().ok().filter(|n| (2..=100).contains(n)))
                    .ok_or("WINDRIFT_POOL is a number of connections from 2 to 100.")?,
                Err(_) => windrift_store::POOL,
            };
            let url = setting("WINDRIFT_DATABASE_URL")?;
            let store = Store::connect_within_with(&url, PATIENCE, connections)
                .await
                .map_err(words)?;
            let port = setting("WINDRIFT_PORT")?
                .parse()
                .map_err(|_| "WINDRIFT_PORT is not a port.".to_owned())?;
            let web = PathBuf::from(setting("WINDRIFT_WEB")?);
            if !web.join("index.html").exists() {
                return Err(format!(
                    "The web application is not built in {}. Run ./windrift demo, which builds it.",
                    web.display()
                ));
            }
            let hosts = std::env::var("WINDRIFT_HOSTS").unwrap_or_default();
            // Beside the program's other state; the launcher says where.
            let outbox = std::env::var_os("WINDRIFT_OUTBOX")
                .map_or_else(|| std::env::temp_dir().join("windrift-outbox"), PathBuf::from);
            let is_on = |name| std::env::var(name).is_ok_and(|v| v == "1");
            let program = std::env::current_exe().map_err(|e| e.to_string())?;
            let local = Setup::local(port, web, program);
            let address = match std::env::var("WINDRIFT_ADDRESS") {
                Ok(address) => address
                    .parse()
                    .map_err(|_| "WINDRIFT_ADDRESS is no address, such as 0.0.0.0.".to_owned())?,
                Err(_) => local.address,
            };
            let setup = Setup {
                address,
                outbox,
                tls: is_on("WINDRIFT_TLS"),
                proxy: is_on("WINDRIFT_PROXY"),
                metrics_key: std::env::var("WINDRIFT_METRICS_KEY")
                    .ok()
                    .filter(|k| !k.is_empty()),
                hosts: hosts
                    .split(',')
                    .map(|h| h.trim().to_owned())
                    .filter(|h| !h.is_empty())
                    .collect(),
                ..local
            };
            serve(store, setup).await
        }
        ["check"] => {
            let store = Store::connect_within(&setting("WINDRIFT_DATABASE_URL")?, PATIENCE)
                .await
                .map_err(words)?;
            let checked = store.check_all().await.map_err(words)?;
            if checked.wrong.is_empty() {
                println!(
                    "windrift: {} jobs, {} entries of the record: every record whole. {} photos are there.",
                    checked.jobs, checked.entries, checked.photos
                );
                return Ok(());
            }
            Err(checked.wrong.join(" "))
        }
        // Whoever may start this on the machine may let people in: the way back where the lead forgot theirs. The passphrase comes by
        // standard input, never by the command line, which every user of the machine can see.
        ["passphrase", name] => {
            let store = Store::connect_within(&setting("WINDRIFT_DATABASE_URL")?, PATIENCE)
                .await
                .map_err(words)?;
            let crew = store.crew().await.map_err(words)?;
            let member = crew
                .iter()
                .find(|c| c.name.to_lowercase() == name.trim().to_lowercase());
            let names: Vec<_> = crew.iter().map(|c| c.name.as_str()).collect();
            let member = member.ok_or(format!(
                "Nobody here is called {name}. The crew: {}.",
                names.join(", ")
            ))?;
            let mut typed = String::new();
            std::io::stdin()
                .read_line(&mut typed)
                .map_err(|e| e.to_string())?;
            let typed = typed.trim_end_matches(['\r', '\n']);
            secret::good_passphrase(typed, &member.name).map_err(|p| p.detail)?;
            let hash = secret::kept(typed).map_err(|p| p.detail)?;
            store
                .set_passphrase(member.id, &hash, None, None)
                .await
                .map_err(words)?;
            store
                .note_audit("passphrase", Some(member.id), "passphrase set on the machine", "this machine")
                .await
                .map_err(words)?;
            // Whoever sets one here means a shop of their own.
            if store.close_to_all().await.map_err(words)? {
                println!("windrift: This is the made-up shop no more: from now on nobody comes in without a passphrase.");
            }
            println!("{} signs in with it from now on. Where they were signed in before, they are not any more.", member.name);
            Ok(())
        }
        ["stand-in-sensor", more @ ..] => {
            let port = setting("WINDRIFT_PORT")?
                .parse()
                .map_err(|_| "WINDRIFT_PORT is not a port.".to_owned())?;
            stand_in::sensor(more, port)
        }
        _ => Err(
            "Use: windrift-server migrate | demo FOLDER | serve | check | passphrase NAME | stand-in-sensor | read | verify FILE | openapi | schema | film-schema | bundle-schema".into(),
        ),
    }
}

/// How long PostgreSQL is waited for at the start: it may be coming up beside this.
const PATIENCE: Duration = Duration::from_secs(30);

/// Runs the command that the program was called with.
pub fn main() -> ExitCode {
    // A reader of one file has no use for threads, a log or a database.
    if std::env::args().nth(1).as_deref() == Some("read") {
        return if worker::main() {
            ExitCode::SUCCESS
        } else {
            ExitCode::FAILURE
        };
    }
    rocket::async_main(serving())
}

async fn serving() -> ExitCode {
    let level = std::env::var("WINDRIFT_LOG").ok();
    let level = level.and_then(|l| l.parse().ok());
    let level: tracing::Level = level.unwrap_or(tracing::Level::WARN);
    tracing_subscriber::fmt()
        .with_writer(std::io::stderr)
        .with_max_level(level)
        .init();
    match run().await {
        Ok(()) => ExitCode::SUCCESS,
        Err(sentence) => {
            eprintln!("windrift: {sentence}");
            ExitCode::FAILURE
        }
    }
}
