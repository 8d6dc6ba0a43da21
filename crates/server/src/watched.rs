//! What whoever runs Windrift sees of it: an id for each request, which stands in the log and in a problem's answer, and figures in the text
//! format that monitoring reads (Prometheus exposition format 0.0.4).

use std::time::Instant;

use prometheus::{Encoder, HistogramOpts, HistogramVec, IntGauge, Registry, TextEncoder};
use rocket::fairing::{Fairing, Info, Kind};
use rocket::http::Header;
use rocket::{Data, Request, Response};
use uuid::Uuid;

/// Seconds at which durations are counted.
const BUCKETS: [f64; 10] = [0.005, 0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1.0, 5.0, 30.0];

/// The figures of this server.
#[derive(Clone)]
pub struct Figures {
    registry: Registry,
    requests: HistogramVec,
    /// Pages that hear of changes now.
    pub listeners: IntGauge,
}

impl Figures {
    /// Figures from nothing on.
    ///
    /// Errors: a name that is taken, which is none here.
    pub fn begin() -> Result<Figures, prometheus::Error> {
        let registry = Registry::new();
        let requests = HistogramVec::new(
            HistogramOpts::new(
                "windrift_request_seconds",
                "How long requests took, by route, method and status.",
            )
            .buckets(BUCKETS.into()),
            &["route", "method", "status"],
        )?;
        let listeners = IntGauge::new(
            "windrift_live_listeners",
            "Pages that hear of changes at this server.",
        )?;
        registry.register(Box::new(requests.clone()))?;
        registry.register(Box::new(listeners.clone()))?;
        Ok(Figures {
            registry,
            requests,
            listeners,
        })
    }

    /// All of them as text.
    pub fn told(&self) -> String {
        let mut text = Vec::new();
        if let Err(error) = TextEncoder::new().encode(&self.registry.gather(), &mut text) {
            tracing::warn!(%error, "figures");
        }
        String::from_utf8_lossy(&text).into_owned()
    }
}

/// One more listener for as long as it lives.
pub struct Listening(IntGauge);

impl Listening {
    /// Counts one.
    pub fn at(figures: &Figures) -> Listening {
        figures.listeners.inc();
        Listening(figures.listeners.clone())
    }
}

impl Drop for Listening {
    fn drop(&mut self) {
        self.0.dec();
    }
}

struct Begun {
    id: Uuid,
    at: Instant,
}

/// The id of a request: stands in the log and in a problem's answer.
pub fn id_of(request: &Request<'_>) -> Uuid {
    begun(request).id
}

fn begun<'r>(request: &'r Request<'_>) -> &'r Begun {
    request.local_cache(|| Begun {
        id: Uuid::now_v7(),
        at: Instant::now(),
    })
}

/// Watches every request from its beginning to its answer.
pub struct Watch(pub Figures);

#[rocket::async_trait]
impl Fairing for Watch {
    fn info(&self) -> Info {
        Info {
            name: "watch",
            kind: Kind::Request | Kind::Response,
        }
    }

    async fn on_request(&self, request: &mut Request<'_>, _: &mut Data<'_>) {
        begun(request);
    }

    async fn on_response<'r>(&self, request: &'r Request<'_>, response: &mut Response<'r>) {
        let Begun { id, at } = begun(request);
        let took = at.elapsed();
        response.set_header(Header::new("X-Request-Id", id.to_string()));
        // By the route's own pattern: keys and tokens are no labels, and stand in no log.
        let route = request
            .route()
            .map_or_else(|| "none".to_owned(), |r| r.uri.to_string());
        let status = response.status().code;
        self.0
            .requests
            .with_label_values(&[
                route.as_str(),
                request.method().as_str(),
                status.to_string().as_str(),
            ])
            .observe(took.as_secs_f64());
        tracing::info!(
            request = %id,
            method = %request.method(),
            route,
            status,
            ms = took.as_millis() as u64,
            "answered"
        );
    }
}
