//! The API as a client sees it, on a real PostgreSQL, every answer held against the API's own document.

use std::sync::LazyLock;

use rocket::http::{ContentType, Header};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;
use windrift_server::access::hash_of;
use windrift_server::{Setup, build};
use windrift_store::Store;
use windrift_store::entity::session;
use windrift_testkit::{Cluster, Shop, small_shop};

/// The API of a small shop on a cluster of its own.
pub struct Api {
    pub client: Client,
    pub shop: Shop,
    pub who: Uuid,
    pub cluster: Cluster,
}

pub struct Answer {
    pub status: u16,
    pub body: Value,
    pub kind: Option<ContentType>,
    pub etag: Option<String>,
}

/// A panic on a thread that answers or computes fails the whole run, whatever the client was told. A test's own thread panics by
/// itself.
fn no_silent_panics() {
    static ONCE: std::sync::Once = std::sync::Once::new();
    ONCE.call_once(|| {
        let told = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |panic| {
            told(panic);
            let thread = std::thread::current();
            if thread
                .name()
                .is_some_and(|n| n.contains("worker") || n.contains("tokio"))
            {
                eprintln!("a panic in the server fails the suite");
                std::process::exit(101);
            }
        }));
    });
}

/// Signs the shop's crew in on a client's device, with one press each.
pub async fn sign_in_all(client: &Client, shop: &Shop) {
    let names = client.get("/api/door").dispatch().await;
    let door: Value = serde_json::from_slice(&names.into_bytes().await.unwrap()).unwrap();
    for (n, id) in shop.crew.iter().enumerate() {
        let member = door["crew"].as_array().unwrap().iter();
        let name = member.clone().find(|c| c["id"] == id.to_string()).unwrap()["name"].clone();
        let (path, body) = match n {
            0 => ("/api/sign-in", json!({ "name": name })),
            _ => ("/api/me/people", json!({ "crew": id })),
        };
        let asked = client.post(path).header(ContentType::JSON);
        let answer = asked.body(body.to_string()).dispatch().await;
        assert_eq!(answer.status().code, 200, "{path}");
    }
}

/// What a device holds on which these people are signed in: for those who speak HTTP themselves.
pub async fn token_of(store: &Store, people: &[Uuid]) -> String {
    let (token, now) = (Uuid::new_v4().to_string(), OffsetDateTime::now_utc());
    let session = session::Model {
        id: Uuid::now_v7(),
        token_hash: hash_of(&token),
        floor: false,
        device: "a test".into(),
        at: now,
        seen: now,
        expires: now + time::Duration::hours(1),
        ended: None,
    };
    let id = session.id;
    store.begin_session(session, people[0]).await.unwrap();
    for who in people {
        store.join_session(id, *who).await.unwrap();
    }
    token
}

impl Api {
    /// In a database of its own.
    pub async fn start() -> Api {
        Api::at(Cluster::start().await).await
    }

    /// In this one.
    pub async fn at(cluster: Cluster) -> Api {
        no_silent_panics();
        let store = cluster.store().await;
        let shop = small_shop(&store).await;
        // Everybody is signed in on the one device that asks: what the routes do is another matter than who may come in.
        store.open_to_all().await.unwrap();
        let client = Client::tracked(build(
            store,
            Setup {
                tls: false,
                outbox: std::env::temp_dir()
                    .join(format!("windrift-outbox-{}", std::process::id())),
                metrics_key: Some("the figures".into()),
                ..Setup::local(
                    0,
                    std::env::temp_dir(),
                    env!("CARGO_BIN_EXE_windrift-server-tested").into(),
                )
            },
        ))
        .await
        .unwrap();
        sign_in_all(&client, &shop).await;
        Api {
            client,
            who: shop.crew[0],
            shop,
            cluster,
        }
    }

    pub async fn call(
        &self,
        method: &str,
        path: &str,
        body: Value,
        headers: &[(&'static str, String)],
    ) -> Answer {
        let path = path.to_owned();
        let mut request = match method {
            "GET" => self.client.get(path.clone()),
            "PUT" => self.client.put(path.clone()),
            "DELETE" => self.client.delete(path.clone()),
            _ => self.client.post(path.clone()),
        };
        request.add_header(Header::new("Crew-Id", self.who.to_string()));
        if method != "GET" {
            request.add_header(Header::new("Edit-Id", Uuid::now_v7().to_string()));
            if !body.is_null() {
                request.add_header(ContentType::JSON);
                request.set_body(body.to_string());
            }
        }
        for (name, value) in headers {
            request.replace_header(Header::new(*name, value.clone()));
        }
        let response = request.dispatch().await;
        let status = response.status().code;
        let kind = response.content_type();
        let etag = response.headers().get_one("ETag").map(str::to_owned);
        let bytes = response.into_bytes().await.unwrap_or_default();
        let body = serde_json::from_slice(&bytes)
            .unwrap_or_else(|_| Value::from(String::from_utf8_lossy(&bytes).into_owned()));
        documented(method, &path, status, kind.as_ref(), &body);
        Answer {
            status,
            body,
            kind,
            etag,
        }
    }

    pub async fn get(&self, path: &str) -> Value {
        let answer = self.call("GET", path, Value::Null, &[]).await;
        assert_eq!(answer.status, 200, "{path}: {}", answer.body);
        answer.body
    }

    pub async fn post(&self, path: &str, body: Value) -> Answer {
        self.call("POST", path, body, &[]).await
    }

    pub async fn put(&self, path: &str, revision: i64, spec: Value) -> Answer {
        self.call(
            "PUT",
            path,
            json!({ "spec": spec }),
            &[("If-Match", format!("\"{revision}\""))],
        )
        .await
    }

    /// Sends a file as it is.
    pub async fn raw(&self, path: &str, bytes: &[u8]) -> Answer {
        let response = self
            .client
            .post(path.to_owned())
            .header(Header::new("Crew-Id", self.who.to_string()))
            .header(ContentType::Binary)
            .body(bytes)
            .dispatch()
            .await;
        let (status, kind) = (response.status().code, response.content_type());
        let body = serde_json::from_slice(&response.into_bytes().await.unwrap()).unwrap();
        documented("POST", path, status, kind.as_ref(), &body);
        Answer {
            status,
            body,
            kind,
            etag: None,
        }
    }

    /// The words of a PDF, page after page, as a general reader takes them out.
    pub async fn pdf(&self, path: &str) -> String {
        let response = self.client.get(path.to_owned()).dispatch().await;
        assert_eq!(response.status().code, 200, "{path}");
        assert_eq!(response.content_type(), Some(ContentType::PDF), "{path}");
        let file = std::env::temp_dir().join(format!("windrift-{}.pdf", Uuid::now_v7()));
        std::fs::write(&file, response.into_bytes().await.unwrap()).unwrap();
        let text = std::process::Command::new("pdftotext")
            .args(["-layout", file.to_str().unwrap(), "-"])
            .output()
            .unwrap();
        std::fs::remove_file(&file).unwrap();
        assert!(text.status.success(), "{path} is a PDF that can be read");
        String::from_utf8(text.stdout).unwrap()
    }

    /// Adds a piece and answers its key.
    pub async fn piece(&self, spec: Value) -> String {
        let id = Uuid::now_v7().to_string();
        let answer = self
            .post(
                &format!("/api/sides/{}/pieces", self.shop.side),
                json!({ "id": id, "spec": spec }),
            )
            .await;
        assert_eq!(answer.status, 200, "{}", answer.body);
        id
    }

    /// A printed panel so large, in inches, so far back.
    pub async fn panel(&self, name: &str, size: [&str; 2], back: &str) -> String {
        self.piece(json!({
            "art": { "is": "panel", "name": name, "width_mm": size[0], "height_mm": size[1], "bleed_mm": "0", "colour": "#23405c" },
            "place": { "by": "rules", "along": { "rule": "from_front", "distance_mm": back, "to": "first_letter" },
                "down": { "rule": "from_datum", "distance_mm": "30", "to": "top" }, "angle": { "rule": "along_datum" } }
        }))
        .await
    }

    /// Says that a piece lies.
    pub async fn lies(&self, piece: &str) {
        let note = json!({ "id": Uuid::now_v7(), "note": { "what": "laid", "strokes": 4, "why": "hung by the eye" } });
        let done = self.post(&format!("/api/pieces/{piece}/floor"), note).await;
        assert_eq!(done.status, 200, "{}", done.body);
    }

    pub async fn read_ends(&self, piece: &str, front: &str, rear: &str) -> Answer {
        self.post(
            &format!("/api/pieces/{piece}/readings"),
            json!({ "id": Uuid::now_v7(), "front_mm": front, "rear_mm": rear }),
        )
        .await
    }
}

static DOCUMENT: LazyLock<Value> = LazyLock::new(windrift_server::openapi::document);

/// Every answer is held against the API's own document: its status stands there, and its body is what the document says.
fn documented(method: &str, path: &str, status: u16, kind: Option<&ContentType>, body: &Value) {
    let path = path.split('?').next().unwrap();
    let fits = |pattern: &str| {
        let (p, q): (Vec<_>, Vec<_>) = (pattern.split('/').collect(), path.split('/').collect());
        p.len() == q.len() && p.iter().zip(&q).all(|(p, q)| p.starts_with('{') || p == q)
    };
    let paths = DOCUMENT["paths"].as_object().unwrap();
    // A literal path before one with a parameter in it.
    let found = paths
        .keys()
        .filter(|p| fits(p))
        .min_by_key(|p| p.matches('{').count());
    let Some(operation) = found.map(|p| &paths[p][method.to_lowercase()]) else {
        assert!(
            path.starts_with("/api/") && status == 404,
            "{method} {path} is not in the document: {status}"
        );
        return;
    };
    if operation.is_null() {
        assert_eq!(status, 405, "{method} {path}");
        return;
    }
    let response = &operation["responses"][status.to_string()];
    assert!(
        response.is_object(),
        "{method} {path} answers {status}, which its document does not know: {body}"
    );
    let kind = kind
        .map(|k| format!("{}/{}", k.top(), k.sub()))
        .unwrap_or_default();
    let Some(schema) = response["content"][&kind]["schema"].as_object() else {
        return;
    };
    let mut whole = Value::Object(schema.clone());
    whole["components"] = DOCUMENT["components"].clone();
    let check = jsonschema::validator_for(&whole).unwrap();
    let wrong: Vec<String> = check
        .iter_errors(body)
        .map(|e| format!("{}: {e}", e.instance_path()))
        .take(3)
        .collect();
    assert!(
        wrong.is_empty(),
        "{method} {path} {status} is not as documented: {wrong:?}"
    );
}

/// A line of lettering as it is sent.
pub fn lettering(text: &str, height: &str, back: &str, down: &str) -> Value {
    json!({
        "art": { "is": "lettering", "text": text, "typeface": "archivo-black", "size": { "by": "capital_height", "height_mm": height }, "colour": "#14524d" },
        "place": {
            "by": "rules",
            "along": { "rule": "from_front", "distance_mm": back, "to": "first_letter" },
            "down": { "rule": "from_datum", "distance_mm": down, "to": "cap_line" },
            "angle": { "rule": "along_datum" }
        }
    })
}
