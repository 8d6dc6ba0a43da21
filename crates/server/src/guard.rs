//! What every request and every answer passes: who may ask, in which form, and how answers are kept and packed.

use std::collections::BTreeSet;
use std::io::Write;

use flate2::Compression;
use flate2::write::GzEncoder;
use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::uri::Origin;
use rocket::http::{ContentType, Header, Method, Status};
use rocket::route::{Handler, Outcome};
use rocket::{Data, Request, Response, Route};
use sha2::{Digest, Sha256};

use crate::problem::Problem;

/// Smallest answer that is worth packing, bytes.
const WORTH_PACKING: usize = 1400;
/// Answers from this size on are packed off the threads that answer, bytes.
const LARGE: usize = 64 * 1024;

/// Checks requests before any route sees them, and finishes answers.
pub struct Guard {
    /// Names under which this server is called, beside the loopback ones: `windrift.example:8410`.
    pub hosts: Vec<String>,
}

/// Paths that take a file as it is; all others take JSON alone.
pub const TAKE_FILES: [&str; 7] = [
    "/bundles",
    "/bundles/verified",
    "/kit-file",
    "/outline-file",
    "/photos",
    "/shelf.csv",
    "/typefaces",
];

impl Guard {
    fn is_ours(&self, host: &str) -> bool {
        let name = host.rsplit_once(':').map_or(host, |(name, port)| {
            if port.chars().all(|c| c.is_ascii_digit()) {
                name
            } else {
                host
            }
        });
        ["127.0.0.1", "localhost", "[::1]"].contains(&name)
            || self.hosts.iter().any(|h| h == host || h == name)
    }

    /// What is wrong with a request, if anything: the word of the refusal.
    fn refusal(&self, request: &Request<'_>) -> Option<&'static str> {
        let header = |name| request.headers().get_one(name);
        // A page at another name that was made to lead here speaks under that name.
        if header("Host").is_some_and(|h| !self.is_ours(h)) {
            return Some("host");
        }
        if matches!(
            request.method(),
            Method::Get | Method::Head | Method::Options
        ) {
            return None;
        }
        let foreign = match header("Origin") {
            Some(origin) => {
                let host = origin.split_once("://").map_or("", |(_, host)| host);
                !self.is_ours(host) || header("Host").is_some_and(|h| h != host)
            }
            None => {
                header("Sec-Fetch-Site").is_some_and(|site| !matches!(site, "same-origin" | "none"))
            }
        };
        if foreign {
            return Some("origin");
        }
        let path = request.uri().path();
        let says = header("Content-Type").map(|t| t.split(';').next().unwrap_or_default().trim());
        let takes_file = TAKE_FILES.iter().any(|f| path.ends_with(f));
        let right = match says {
            None => {
                header("Content-Length").is_none_or(|n| n == "0")
                    && header("Transfer-Encoding").is_none()
            }
            Some("application/octet-stream") => takes_file,
            Some("application/json") => !takes_file,
            Some(_) => false,
        };
        (path.starts_with("/api/") && !right).then_some("form")
    }
}

#[rocket::async_trait]
impl Fairing for Guard {
    fn info(&self) -> Info {
        Info {
            name: "guard",
            kind: Kind::Request | Kind::Response,
        }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        if let Some(word) = self.refusal(request)
            && let Ok(uri) = Origin::parse_owned(format!("/api/refused/{word}"))
        {
            request.set_uri(uri);
        }
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        response.set_header(Header::new("X-Content-Type-Options", "nosniff"));
        response.set_header(Header::new("Referrer-Policy", "no-referrer"));
        response.set_header(Header::new(
            "Content-Security-Policy",
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'",
        ));
        let path = request.uri().path();
        let api = path.starts_with("/api/") || path == "/api";
        if response.headers().get_one("Cache-Control").is_none() {
            let keep = if api {
                "no-store"
            } else if path.starts_with("/assets/") {
                // Their names carry a hash of what is in them.
                "public, max-age=31536000, immutable"
            } else {
                "no-cache"
            };
            response.set_header(Header::new("Cache-Control", keep));
        }
        if response.status() == Status::Ok {
            finish(request, response, !api).await;
        }
    }
}

/// Gives an answer its tag, where it is a file of the web application, and packs text.
async fn finish<'r>(request: &'r Request<'_>, response: &mut Response<'r>, tagged: bool) {
    let text = response.content_type().is_some_and(|t| {
        (t.top() == "text" && t.sub() != "event-stream")
            || t.is_json()
            || t.is_javascript()
            || t == ContentType::SVG
    });
    if !text && !tagged {
        return;
    }
    let Ok(bytes) = response.body_mut().to_bytes().await else {
        response.set_status(Status::InternalServerError);
        return;
    };
    let accepts = |header, what: &str| {
        request
            .headers()
            .get(header)
            .flat_map(|v| v.split(','))
            .any(|v| v.split(';').next().unwrap_or_default().trim() == what)
    };
    if tagged {
        let digest = Sha256::digest(&bytes);
        let tag = format!(
            "\"{:016x}\"",
            u64::from_be_bytes(digest[..8].try_into().unwrap_or_default())
        );
        let known = accepts("If-None-Match", &tag);
        response.set_header(Header::new("ETag", tag));
        if known {
            response.set_status(Status::NotModified);
            response.set_sized_body(0, std::io::Cursor::new(Vec::new()));
            return;
        }
    }
    response.set_header(Header::new("Vary", "Accept-Encoding"));
    if !text || bytes.len() < WORTH_PACKING || !accepts("Accept-Encoding", "gzip") {
        response.set_sized_body(bytes.len(), std::io::Cursor::new(bytes));
        return;
    }
    let packed = if bytes.len() < LARGE {
        pack(&bytes)
    } else {
        let all = bytes.clone();
        rocket::tokio::task::spawn_blocking(move || pack(&all))
            .await
            .ok()
            .flatten()
    };
    match packed {
        Some(packed) => {
            response.set_header(Header::new("Content-Encoding", "gzip"));
            response.set_sized_body(packed.len(), std::io::Cursor::new(packed));
        }
        None => response.set_sized_body(bytes.len(), std::io::Cursor::new(bytes)),
    }
}

fn pack(bytes: &[u8]) -> Option<Vec<u8>> {
    let mut packer = GzEncoder::new(Vec::new(), Compression::fast());
    packer.write_all(bytes).ok()?;
    packer.finish().ok()
}

/// Answers what no route of the API answers: nothing is there, or it is there for another method.
#[derive(Clone)]
struct Otherwise(Vec<(Method, Vec<String>)>);

impl Otherwise {
    fn methods_at(&self, path: &[&str]) -> BTreeSet<&'static str> {
        let fits = |pattern: &[String]| {
            pattern.len() == path.len()
                && pattern
                    .iter()
                    .zip(path)
                    .all(|(p, s)| p.starts_with('<') || p == s)
        };
        self.0
            .iter()
            .filter(|(_, pattern)| fits(pattern))
            .map(|(method, _)| method.as_str())
            .collect()
    }
}

#[rocket::async_trait]
impl Handler for Otherwise {
    async fn handle<'r>(&self, request: &'r Request<'_>, _: Data<'r>) -> Outcome<'r> {
        let path: Vec<&str> = request.uri().path().segments().skip(1).collect();
        let problem = match path.as_slice() {
            ["refused", "host"] => Problem::new(
                Status::MisdirectedRequest,
                "host",
                "Windrift is not called by this name here. Open it at the address that it printed when it started.",
            ),
            ["refused", "origin"] => Problem::new(
                Status::Forbidden,
                "origin",
                "Another page asked for this, not Windrift's own. Nothing was changed.",
            ),
            ["refused", "form"] => Problem::new(
                Status::UnsupportedMediaType,
                "form",
                "Send JSON as application/json and a file as application/octet-stream.",
            ),
            _ => {
                let methods = self.methods_at(&path);
                if methods.is_empty() {
                    Problem::new(
                        Status::NotFound,
                        "not_found",
                        "There is nothing under this address. Go back and look again.",
                    )
                } else if methods.contains(request.method().as_str()) {
                    // The route is there and did not take it: a word of its address is missing or of the wrong kind.
                    Problem::input(
                        "address",
                        "Something is missing in this address, or is not what it should be. Load the page again and repeat it.",
                    )
                } else {
                    let methods: Vec<_> = methods.into_iter().collect();
                    Problem::new(
                        Status::MethodNotAllowed,
                        "method",
                        format!("This is asked with {} here.", methods.join(" or ")),
                    )
                }
            }
        };
        Outcome::from(request, problem)
    }
}

/// The routes of last resort of the API, one for each method.
pub fn otherwise(routes: &[Route]) -> Vec<Route> {
    let known = routes
        .iter()
        .map(|r| {
            let path = r.uri.path().split('/').filter(|s| !s.is_empty());
            (r.method, path.map(str::to_owned).collect())
        })
        .collect();
    let handler = Otherwise(known);
    [
        Method::Get,
        Method::Post,
        Method::Put,
        Method::Delete,
        Method::Patch,
        Method::Options,
    ]
    .into_iter()
    .map(|method| Route::ranked(19, method, "/<path..>", handler.clone()))
    .collect()
}
