//! Windrift's server: the API, errors for people, the demo's data, and the built web application.
//!
//! Keeps no state of its own between requests.

pub mod demo;
pub mod openapi;
pub mod problem;
pub mod request;
pub mod routes;
pub mod views;

use std::path::PathBuf;

use rocket::fairing::{Fairing, Info, Kind};
use rocket::fs::{FileServer, NamedFile, Options};
use rocket::http::Header;
use rocket::{Build, Request, Response, Rocket, State, catchers, get, routes};
use windrift_store::Store;

/// Where the server listens and what it serves.
#[derive(Debug, Clone)]
pub struct Setup {
    /// Port on 127.0.0.1; 0 takes a free one.
    pub port: u16,
    /// Folder of the built web application.
    pub web: PathBuf,
}

struct WebFolder(PathBuf);

/// Every other address belongs to the web application, which finds its own way.
#[get("/<_path..>", rank = 20)]
async fn web_page(_path: PathBuf, web: &State<WebFolder>) -> Option<NamedFile> {
    NamedFile::open(web.0.join("index.html")).await.ok()
}

/// Headers that keep pages to themselves: no frames, no foreign scripts, no guessing of types.
struct SafeHeaders;

#[rocket::async_trait]
impl Fairing for SafeHeaders {
    fn info(&self) -> Info {
        Info {
            name: "safe headers",
            kind: Kind::Response,
        }
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        response.set_header(Header::new("X-Content-Type-Options", "nosniff"));
        response.set_header(Header::new("Referrer-Policy", "no-referrer"));
        response.set_header(Header::new(
            "Content-Security-Policy",
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'",
        ));
        if request.uri().path().starts_with("/api/") {
            response.set_header(Header::new("Cache-Control", "no-store"));
        }
    }
}

/// Puts the server together.
pub fn build(store: Store, setup: Setup) -> Rocket<Build> {
    let figment = rocket::Config::figment()
        .merge(("address", "127.0.0.1"))
        .merge(("port", setup.port))
        .merge(("workers", 4))
        .merge(("log_level", "off"))
        .merge(("ident", "Windrift"))
        .merge(("shutdown.grace", 1))
        .merge(("shutdown.mercy", 1));
    rocket::custom(figment)
        .manage(store)
        .manage(WebFolder(setup.web.clone()))
        .mount("/api", routes::all())
        .mount(
            "/",
            FileServer::new(setup.web, Options::Index | Options::Missing).rank(15),
        )
        .mount("/", routes![web_page])
        .register("/", catchers![problem::otherwise])
        .attach(SafeHeaders)
}
