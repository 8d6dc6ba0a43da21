//! Windrift's server: the API, errors for people, the demo's data, and the built web application.
//!
//! Keeps no state of its own between requests.

pub mod access;
mod bay_view;
mod bays;
pub mod both;
pub mod bundle;
mod called_back;
mod cared;
pub mod command;
pub mod compute;
pub mod corrections;
pub mod demo;
pub mod desk;
pub mod devices;
pub mod documents;
pub mod door;
pub mod earlier;
mod editing;
pub mod entries;
pub mod fetch;
pub mod file;
mod floods;
pub mod floor;
pub mod guard;
mod heat_view;
mod job_pieces;
pub mod keys;
pub mod layers;
pub mod links;
pub mod live;
mod looked;
mod made_by;
mod marked;
pub mod mirror;
pub mod names;
mod nests;
pub mod openapi;
mod paces;
mod packet_lines;
pub mod planned;
mod prep_view;
mod prep_warm;
pub mod problem;
pub mod request;
mod roll_layout;
pub mod routes;
pub mod secret;
pub mod session;
pub mod stand_in;
mod streams;
mod strip_view;
mod tape_rolls;
pub mod views;
mod walked;
pub mod watched;
pub mod ways;
pub mod worker;

use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use std::path::PathBuf;
use std::sync::Mutex;

use rocket::fairing::AdHoc;
use rocket::fs::{FileServer, NamedFile, Options};
use rocket::tokio::net::TcpListener;
use rocket::{Build, Rocket, State, catchers, get, routes};
use windrift_store::Store;

use crate::desk::Kept;
use crate::documents::Documents;
use crate::door::Clients;
use crate::guard::Guard;
use crate::live::Live;
use crate::session::Secure;
use crate::watched::{Figures, Watch};

/// Where the server listens and what it serves.
#[derive(Debug, Clone)]
pub struct Setup {
    /// Address that it listens at.
    pub address: IpAddr,
    /// Port there; 0 takes a free one.
    pub port: u16,
    /// Folder of the built web application.
    pub web: PathBuf,
    /// This program's own file: files from elsewhere are read by calling it.
    pub program: PathBuf,
    /// Names under which it is called beside the loopback ones.
    pub hosts: Vec<String>,
    /// Folder that stands in for a mail server.
    pub outbox: PathBuf,
    /// Whether a proxy before it speaks TLS: cookies are then sent over nothing else.
    pub tls: bool,
    /// Whether everything comes by a proxy, which says whom it came from (X-Forwarded-For).
    pub proxy: bool,
    /// Whoever shows this reads the server's figures; nobody does where there is none.
    pub metrics_key: Option<String>,
}

impl Setup {
    /// On this machine alone, with nothing before it.
    pub fn local(port: u16, web: PathBuf, program: PathBuf) -> Setup {
        Setup {
            address: IpAddr::V4(Ipv4Addr::LOCALHOST),
            port,
            web,
            program,
            hosts: Vec::new(),
            outbox: std::env::temp_dir().join("windrift-outbox"),
            tls: false,
            proxy: false,
            metrics_key: None,
        }
    }
}

/// Whether a proxy says whom a request came from.
pub struct Proxied(pub bool);

/// What whoever reads the figures shows.
pub struct MetricsKey(pub Option<String>);

/// The folder that stands in for a mail server.
pub struct Outbox(pub PathBuf);

struct WebFolder(PathBuf);

/// Every other address belongs to the web application, which finds its own way.
#[get("/<_path..>", rank = 20)]
async fn web_page(_path: PathBuf, web: &State<WebFolder>) -> Option<NamedFile> {
    NamedFile::open(web.0.join("index.html")).await.ok()
}

/// Longest that an answer may still take when the server is stopped, seconds: longer than any answer takes.
const GRACE: u32 = 25;

/// Puts the server together.
pub fn build(store: Store, setup: Setup) -> Rocket<Build> {
    // The names are ours and each other's: they are never taken.
    #[allow(clippy::expect_used)]
    let figures = Figures::begin().expect("figures with names of their own");
    let figment = rocket::Config::figment()
        .merge(("address", "127.0.0.1"))
        .merge(("port", setup.port))
        .merge(("workers", 4))
        .merge(("log_level", "off"))
        .merge(("ident", "Windrift"))
        .merge(("shutdown.grace", GRACE))
        .merge(("shutdown.mercy", 2));
    let api = routes::all();
    let otherwise = guard::otherwise(&api);
    let live = Live::default();
    let (live_ear, ear_store) = (live.clone(), store.clone());
    let ear = AdHoc::on_liftoff("ear", move |_| {
        Box::pin(async move {
            rocket::tokio::spawn(live_ear.keep_listening(ear_store));
        })
    });
    rocket::custom(figment)
        .manage(store)
        .manage(live)
        .manage(Kept::new(setup.program))
        .manage(Clients::default())
        .manage(Documents {
            api: openapi::document(),
            template: openapi::template_schema(),
            film: openapi::film_schema(),
        })
        .manage(Outbox(setup.outbox))
        .manage(Secure(setup.tls))
        .manage(Proxied(setup.proxy))
        .manage(MetricsKey(setup.metrics_key))
        .manage(figures.clone())
        .manage(WebFolder(setup.web.clone()))
        .mount("/api", api)
        .mount("/api", otherwise)
        .mount(
            "/",
            FileServer::new(setup.web, Options::Index | Options::Missing).rank(15),
        )
        .mount("/", routes![web_page])
        .register("/", catchers![problem::otherwise])
        .attach(Guard { hosts: setup.hosts })
        .attach(Watch(figures))
        .attach(ear)
}

/// Serves behind the door until it is stopped.
///
/// Errors: a port that is taken; a server that cannot start. In a sentence.
pub async fn serve(store: Store, setup: Setup) -> Result<(), String> {
    let address = SocketAddr::from((setup.address, setup.port));
    let listener = TcpListener::bind(address)
        .await
        .map_err(|e| format!("Port {} cannot be used: {e}.", setup.port))?;
    let listener = Mutex::new(Some(listener));
    let server = build(store, Setup { port: 0, ..setup });
    let clients = server.state::<Clients>().cloned().unwrap_or_default();
    let door = AdHoc::on_liftoff("door", move |rocket| {
        let inner = SocketAddr::from((Ipv4Addr::LOCALHOST, rocket.config().port));
        let listener = listener.lock().ok().and_then(|mut l| l.take());
        Box::pin(async move {
            if let Some(listener) = listener {
                rocket::tokio::spawn(door::keep(listener, inner, clients));
            }
        })
    });
    server
        .attach(door)
        .launch()
        .await
        .map(|_| ())
        .map_err(|e| e.to_string())
}
