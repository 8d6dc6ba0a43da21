//! Who may do what: every route and every part, sessions, guesses, codes and PINs, on a real PostgreSQL.

use rocket::http::{ContentType, Cookie, Header, Method};
use rocket::local::asynchronous::Client;
use sea_orm::{ConnectionTrait, Database};
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_server::access::{COOKIE, Need};
use windrift_server::guard::TAKE_FILES;
use windrift_server::secret::{fits, good_passphrase, good_pin, kept, wait};
use windrift_server::{Setup, build, routes};

use windrift_testkit::Cluster;

use super::common::{Api, token_of};

/// A second browser at the same server's database, with nobody signed in on it.
async fn stranger(api: &Api) -> Client {
    stranger_at(&api.cluster).await
}

async fn stranger_at(cluster: &Cluster) -> Client {
    let setup = Setup {
        tls: true,
        metrics_key: Some("the figures".into()),
        ..Setup::local(
            0,
            std::env::temp_dir(),
            env!("CARGO_BIN_EXE_windrift-server-tested").into(),
        )
    };
    Client::tracked(build(cluster.store().await, setup))
        .await
        .unwrap()
}

async fn post(client: &Client, path: &str, body: Value) -> (u16, Value) {
    let asked = client.post(path.to_owned()).header(ContentType::JSON);
    let answer = asked.body(body.to_string()).dispatch().await;
    let status = answer.status().code;
    let body = answer.into_bytes().await.unwrap_or_default();
    (status, serde_json::from_slice(&body).unwrap_or_default())
}

async fn get(client: &Client, path: &str) -> u16 {
    client.get(path.to_owned()).dispatch().await.status().code
}

/// A shop of somebody's own: nobody comes in with a press.
async fn closed(api: &Api) {
    sql(api, "UPDATE shop SET open = false").await;
}

/// What time does, done at once.
async fn sql(api: &Api, what: &str) {
    let owner = Database::connect(&api.cluster.owner_url).await.unwrap();
    owner.execute_unprepared(what).await.unwrap();
    owner.close().await.unwrap();
}

const AN_HOUR_LATER: &str = "UPDATE guess SET at = at - interval '1 hour'";

async fn give(api: &Api, who: Uuid, passphrase: &str) {
    let store = api.cluster.store().await;
    let hash = kept(passphrase).unwrap();
    store.set_passphrase(who, &hash, None, None).await.unwrap();
}

/// Each route with each part of the crew, and with nobody. What each may is the routes' own table; what the table must say of a method
/// is said here: nobody changes anything without being signed in, but by what they need to come in, and a viewer changes nothing.
#[rocket::async_test]
async fn every_route_asks_who_is_there() {
    let api = Api::start().await;
    let store = api.cluster.store().await;
    let client = stranger(&api).await;
    let [lead, fitter, viewer] = [0, 1, 2].map(|n| api.shop.crew[n]);
    let mut tokens = vec![(None, String::new(), None)];
    for (who, need) in [
        (viewer, Need::Viewer),
        (fitter, Need::Fitter),
        (lead, Need::Lead),
    ] {
        tokens.push((Some(who), token_of(&store, &[who]).await, Some(need)));
    }
    let mut open = Vec::new();
    let mut asked = 0;
    for (method, pattern, need) in routes::needs() {
        if need == Need::Open {
            open.push(format!("{method} {pattern}"));
        }
        let any = Uuid::now_v7().to_string();
        let path: String = pattern
            .split('?')
            .next()
            .unwrap()
            .split('/')
            .map(|s| if s.starts_with('<') { any.as_str() } else { s })
            .collect::<Vec<_>>()
            .join("/");
        for (who, token, has) in &tokens {
            // This ends what the test holds.
            if path == "/sign-out" && who.is_some() {
                continue;
            }
            let mut request = client.req(method, format!("/api{path}"));
            if let Some(who) = who {
                request.add_header(Header::new("Crew-Id", who.to_string()));
                request = request.cookie(Cookie::new(COOKIE, token.clone()));
            }
            if method != Method::Get {
                let file = TAKE_FILES.iter().any(|f| path.ends_with(f));
                request.add_header(if file {
                    ContentType::Binary
                } else {
                    ContentType::JSON
                });
                request.set_body("{}");
            }
            let answer = request.dispatch().await;
            let status = answer.status().code;
            // What tells of changes goes on for ever: that it began is all that is asked here.
            let ends = !(path == "/live" && status == 200);
            let body = if ends {
                answer.into_bytes().await.unwrap_or_default()
            } else {
                Vec::new()
            };
            let body: Value = serde_json::from_slice(&body).unwrap_or_default();
            let code = body["code"].as_str().unwrap_or_default().to_owned();
            let met = match has {
                None => need == Need::Open,
                Some(has) => *has >= need,
            };
            let said = format!("{method} {path} by {has:?}: {status} {code}");
            if met {
                assert!(
                    !["viewer", "not_the_lead", "signed_out"].contains(&code.as_str()),
                    "{said}"
                );
            } else {
                let wanted = match has {
                    None => (401, "signed_out"),
                    Some(_) if need == Need::Lead => (403, "not_the_lead"),
                    Some(_) => (403, "viewer"),
                };
                assert_eq!((status, code.as_str()), wanted, "{said}");
            }
            asked += 1;
        }
    }
    assert!(asked > 500, "{asked}");
    open.sort();
    assert_eq!(
        open,
        [
            "GET /door",
            "GET /health",
            "GET /metrics",
            "GET /openapi.json",
            "GET /ready",
            "GET /schemas/film.json",
            "GET /schemas/side-template.json",
            "GET /shared/<token>",
            "GET /shared/<token>/care",
            "GET /shared/<token>/packet.pdf?<paper>",
            "GET /shared/<token>/photos/<id>",
            "GET /shared/<token>/walk-round",
            "POST /heat-readings",
            "POST /readings",
            "POST /shared/<token>/sign",
            "POST /shop/first",
            "POST /sign-in",
            "POST /sign-out",
        ]
    );
    // What changes rows of work is at least a fitter's, whatever the table says: tried as a viewer, nothing is written.
    let before = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    let changed = client
        .delete(format!("/api/sides/{}", api.shop.side))
        .cookie(Cookie::new(COOKIE, tokens[1].1.clone()))
        .header(Header::new("Crew-Id", viewer.to_string()))
        .header(Header::new("If-Match", "\"1\""))
        .dispatch()
        .await;
    assert_eq!(changed.status().code, 403);
    assert_eq!(
        api.get(&format!("/api/jobs/{}", api.shop.job)).await,
        before
    );
}

/// A trembling hand opens the shop twice: both answers are the same lead's, and neither ends what the other began.
#[rocket::async_test]
async fn a_shop_that_is_opened_twice_at_once_is_opened_once() {
    let cluster = Cluster::start().await;
    let (one, other) = (stranger_at(&cluster).await, stranger_at(&cluster).await);
    let first = json!({ "id": Uuid::now_v7(), "name": "Skerry Signs", "person": "Ragna", "passphrase": "tern over the breakwater", "side_words": "near_off_keep_left", "zone": "Europe/Oslo" });
    let (a, b) = rocket::tokio::join!(
        post(&one, "/api/shop/first", first.clone()),
        post(&other, "/api/shop/first", first.clone())
    );
    assert_eq!((a.0, b.0), (200, 200), "{a:?} {b:?}");
    let again = post(&other, "/api/shop/first", first.clone()).await;
    assert_eq!(again.0, 200);
    for device in [&one, &other] {
        assert_eq!(get(device, "/api/shop").await, 200);
    }
    let mut another = first;
    another["passphrase"] = json!("a guess at the passphrase");
    assert_eq!(post(&one, "/api/shop/first", another).await.0, 409);
}

/// What is commonly used is refused (NIST SP 800-63B asks for it; from memory), also in its usual disguise; ordinary words are not.
#[test]
fn what_is_tried_first_is_no_passphrase() {
    for bad in [
        "Password123!",
        "P@ssw0rd2026",
        "qwertyuiop12",
        "letmein 2 letmein",
        "Maren Maren 1999",
        "1234567890",
        "W1ndr1ft2026!",
        "iloveyou!!!!",
    ] {
        let told = good_passphrase(bad, "Maren Holt").unwrap_err();
        assert!(
            told.detail.contains("first that are tried")
                || told.detail.contains("little more than the name"),
            "{bad}: {}",
            told.detail
        );
    }
    for good in [
        "tern over the breakwater",
        "a guess at the passphrase",
        "five grey gulls",
        "masters of the shadow play",
        "крылья над морем",
        "Maren likes grey gulls",
    ] {
        assert!(good_passphrase(good, "Maren Holt").is_ok(), "{good}");
    }
}

#[rocket::async_test]
async fn a_passphrase_lets_one_in_and_signing_out_ends_it_for_good() {
    let api = Api::start().await;
    closed(&api).await;
    let lead = api.shop.crew[0];
    give(&api, lead, "tern over the breakwater").await;
    let name = api.get("/api/shop").await["crew"][0]["name"].clone();
    let client = stranger(&api).await;
    // Names are told to nobody who stands outside, and nothing else is.
    let door = client.get("/api/door").dispatch().await;
    let door: Value = serde_json::from_slice(&door.into_bytes().await.unwrap()).unwrap();
    assert_eq!((&door["open"], &door["crew"]), (&json!(false), &json!([])));
    assert_eq!(get(&client, "/api/shop").await, 401);
    for (name, passphrase) in [
        (name.clone(), "tern over the breakwateR"),
        (name.clone(), ""),
        (json!("Nobody Here"), "tern over the breakwater"),
    ] {
        let (status, body) = post(
            &client,
            "/api/sign-in",
            json!({ "name": name, "passphrase": passphrase }),
        )
        .await;
        assert_eq!((status, body["code"].as_str()), (401, Some("wrong")));
    }
    let asked = client.post("/api/sign-in").header(ContentType::JSON);
    let answer = asked
        .body(json!({ "name": name, "passphrase": "tern over the breakwater", "device": "Bench desk" }).to_string())
        .dispatch()
        .await;
    assert_eq!(answer.status().code, 200);
    let set = answer.headers().get_one("Set-Cookie").unwrap().to_owned();
    for part in ["HttpOnly", "SameSite=Strict", "Secure", "Path=/"] {
        assert!(set.contains(part), "{part}: {set}");
    }
    let stolen = set.split(['=', ';']).nth(1).unwrap().to_owned();
    assert_eq!(get(&client, "/api/shop").await, 200);
    // What is kept of it is a hash: the token itself stands nowhere in the database.
    let store = api.cluster.store().await;
    let all = format!("{:?}", store.sessions().await.unwrap());
    assert!(!all.contains(&stolen));
    assert_eq!(post(&client, "/api/sign-out", json!({})).await.0, 200);
    let thief = stranger(&api).await;
    let tried = thief
        .get("/api/shop")
        .cookie(Cookie::new(COOKIE, stolen))
        .dispatch()
        .await;
    assert_eq!(tried.status().code, 401, "a stolen cookie after sign-out");
    // All of it stands in the audit list.
    let here = token_of(&store, &[lead]).await;
    let audit = thief.get("/api/audit").cookie(Cookie::new(COOKIE, here));
    let audit = audit.dispatch().await.into_bytes().await.unwrap();
    let audit: Value = serde_json::from_slice(&audit).unwrap();
    let says: Vec<&str> = audit
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["says"].as_str().unwrap())
        .collect();
    let told = |what: &str| says.iter().any(|s| s.contains(what));
    assert!(told("signed out on Bench desk"), "{says:?}");
    assert!(told("refused: sign-in as Nobody Here"), "{says:?}");
    assert!(!says.join(" ").contains("breakwater"), "{says:?}");
}

#[rocket::async_test]
async fn guesses_are_slowed_many_at_once_too_and_a_right_one_is_not_lost() {
    let api = Api::start().await;
    closed(&api).await;
    give(&api, api.shop.crew[0], "tern over the breakwater").await;
    let name = api.get("/api/shop").await["crew"][0]["name"].clone();
    let client = stranger(&api).await;
    let guess = async |n: usize| {
        let body = json!({ "name": name, "passphrase": format!("a guess number {n}") });
        post(&client, "/api/sign-in", body).await.0
    };
    // In four rows side by side: no more are looked at than one after the other.
    let rows = [0, 10, 20, 30].map(|from| async move {
        let mut seen = Vec::new();
        for n in from..from + 10 {
            seen.push(guess(n).await);
        }
        seen
    });
    let [a, b, c, d] = rows;
    let (a, b, c, d) = rocket::tokio::join!(a, b, c, d);
    let seen = [a, b, c, d].concat();
    let looked_at = seen.iter().filter(|s| **s == 401).count();
    assert!((1..=14).contains(&looked_at), "{seen:?}");
    assert!(seen.iter().all(|s| [401, 429].contains(s)), "{seen:?}");
    // The right one waits like the others, and is told how long.
    let right = json!({ "name": name, "passphrase": "tern over the breakwater" });
    let mut told = String::new();
    for _ in 0..40 {
        let (status, body) = post(&client, "/api/sign-in", right.clone()).await;
        if status == 200 {
            assert!(told.contains("Wait"), "{told}");
            return;
        }
        assert_eq!(status, 429, "{body}");
        told = body["detail"].as_str().unwrap().to_owned();
        rocket::tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    }
    panic!("never let in: {told}");
}

#[test]
fn waits_grow_and_end() {
    let waits: Vec<i64> = (0..14).map(|n| wait(n, 5).whole_seconds()).collect();
    assert_eq!(waits, [0, 0, 0, 0, 0, 2, 4, 8, 16, 32, 60, 60, 60, 60]);
}

#[rocket::async_test]
async fn the_lead_lets_people_in_once_and_they_choose_their_own() {
    let mut api = Api::start().await;
    closed(&api).await;
    let (lead, fitter) = (api.shop.crew[0], api.shop.crew[1]);
    let shop = api.get("/api/shop").await;
    let name = shop["crew"][1]["name"].clone();
    let made = api
        .post(&format!("/api/crew/{fitter}/code"), Value::Null)
        .await;
    assert_eq!(made.status, 200, "{}", made.body);
    let code = made.body["code"].as_str().unwrap().to_owned();
    assert_eq!(code.len(), 14);
    let client = stranger(&api).await;
    let with = |own: Option<&str>| json!({ "name": name, "passphrase": code, "own": own });
    let (status, body) = post(&client, "/api/sign-in", with(None)).await;
    assert_eq!((status, body["code"].as_str()), (409, Some("choose_own")));
    let (status, body) = post(&client, "/api/sign-in", with(Some("short"))).await;
    assert_eq!((status, body["field"].as_str()), (422, Some("/passphrase")));
    let (status, body) = post(&client, "/api/sign-in", with(Some("gulls at the mole"))).await;
    assert_eq!(status, 200, "{body}");
    // Once.
    let other = stranger(&api).await;
    let (status, _) = post(&other, "/api/sign-in", with(Some("another one of mine"))).await;
    assert_eq!(status, 401);
    let own = json!({ "name": name, "passphrase": "gulls at the mole", "floor": true, "device": "Bay 1" });
    let (status, me) = post(&other, "/api/sign-in", own).await;
    assert_eq!((status, &me["floor"]), (200, &json!(true)));
    // One's own PIN, which counts on the floor alone; the lead comes onto the fitter's device by it.
    api.who = lead;
    give(&api, lead, "tern over the breakwater").await;
    let here = token_of(&api.cluster.store().await, &[lead]).await;
    let set = async |pin: &str, passphrase: &str| {
        let asked = client
            .put("/api/me/pin")
            .cookie(Cookie::new(COOKIE, here.clone()))
            .header(ContentType::JSON);
        let body = json!({ "pin": pin, "passphrase": passphrase });
        asked.body(body.to_string()).dispatch().await.status().code
    };
    assert_eq!(set("4711", "not mine at all").await, 403);
    assert_eq!(set("1234", "tern over the breakwater").await, 422);
    assert_eq!(set("4711", "tern over the breakwater").await, 200);
    let join = |secret: &str| json!({ "crew": lead, "secret": secret });
    assert_eq!(post(&other, "/api/me/people", join("4712")).await.0, 401);
    let (status, me) = post(&other, "/api/me/people", join("4711")).await;
    assert_eq!((status, me["people"].as_array().unwrap().len()), (200, 2));
    // At a desk a PIN counts for nothing.
    let desk = stranger(&api).await;
    let own = json!({ "name": name, "passphrase": "gulls at the mole" });
    assert_eq!(post(&desk, "/api/sign-in", own).await.0, 200);
    assert_eq!(post(&desk, "/api/me/people", join("4711")).await.0, 401);
    // Shut out: every device of theirs, and no new one.
    let (status, _) = post(&other, &format!("/api/crew/{fitter}/shut-out"), json!({})).await;
    assert_eq!(
        status, 401,
        "two people are here: somebody must say who asks"
    );
    let shut = other
        .post(format!("/api/crew/{fitter}/shut-out"))
        .header(Header::new("Crew-Id", lead.to_string()))
        .dispatch()
        .await;
    assert_eq!(shut.status().code, 200);
    assert_eq!(get(&desk, "/api/shop").await, 401);
    let own = json!({ "name": name, "passphrase": "gulls at the mole" });
    assert_eq!(post(&desk, "/api/sign-in", own).await.0, 401);
}

#[rocket::async_test]
async fn a_pin_that_is_guessed_at_counts_no_more_on_that_device() {
    let api = Api::start().await;
    closed(&api).await;
    let (lead, fitter) = (api.shop.crew[0], api.shop.crew[1]);
    give(&api, lead, "tern over the breakwater").await;
    let store = api.cluster.store().await;
    store.set_pin(lead, &kept("4711").unwrap()).await.unwrap();
    let token = token_of(&store, &[fitter]).await;
    let session = store
        .session_of(&windrift_server::access::hash_of(&token))
        .await
        .unwrap()
        .unwrap()
        .session
        .id;
    sql(&api, "UPDATE session SET floor = true").await;
    // Ten wrong ones, written as they would have been over an hour.
    let named = format!("device {session} {lead}");
    for _ in 0..10 {
        store
            .try_begins(Uuid::now_v7(), &named, "127.0.0.9")
            .await
            .unwrap();
    }
    sql(&api, AN_HOUR_LATER).await;
    let client = stranger(&api).await;
    let join = async |secret: &str| {
        let asked = client
            .post("/api/me/people")
            .cookie(Cookie::new(COOKIE, token.clone()))
            .header(ContentType::JSON);
        let body = json!({ "crew": lead, "secret": secret });
        asked.body(body.to_string()).dispatch().await.status().code
    };
    assert_eq!(join("4711").await, 401, "the PIN counts no more");
    sql(&api, AN_HOUR_LATER).await;
    assert_eq!(join("tern over the breakwater").await, 200);
    assert_eq!(join("4711").await, 200, "and counts again after that");
}

#[rocket::async_test]
async fn a_session_ends_by_its_hour_and_from_the_list() {
    let api = Api::start().await;
    let (lead, fitter, viewer) = (api.shop.crew[0], api.shop.crew[1], api.shop.crew[2]);
    let store = api.cluster.store().await;
    let token = token_of(&store, &[fitter]).await;
    let client = stranger(&api).await;
    let look = async |token: &str| {
        let asked = client
            .get("/api/shop")
            .cookie(Cookie::new(COOKIE, token.to_owned()));
        asked.dispatch().await.status().code
    };
    assert_eq!(look(&token).await, 200);
    let id = store
        .session_of(&windrift_server::access::hash_of(&token))
        .await
        .unwrap()
        .unwrap()
        .session
        .id;
    // A viewer ends nobody else's.
    let other = token_of(&store, &[viewer]).await;
    let end = async |by: &str| {
        let asked = client
            .post(format!("/api/sessions/{id}/end"))
            .cookie(Cookie::new(COOKIE, by.to_owned()));
        asked.dispatch().await.status().code
    };
    assert_eq!(end(&other).await, 403);
    assert_eq!(end(&token_of(&store, &[lead]).await).await, 200);
    assert_eq!(look(&token).await, 401);
    // By its hour.
    let token = token_of(&store, &[fitter]).await;
    sql(&api, "UPDATE session SET expires = now()").await;
    assert_eq!(look(&token).await, 401);
}

#[test]
fn secrets_are_kept_as_argon2id_and_bad_ones_are_refused() {
    let hash = kept("tern over the breakwater").unwrap();
    // RFC 9106, section 4: 19 MiB and two passes are below its second recommended choice; the figures are the library's defaults,
    // from memory those of a published list of password storage rules.
    assert!(
        hash.starts_with("$argon2id$v=19$m=19456,t=2,p=1$"),
        "{hash}"
    );
    assert!(fits("tern over the breakwater", &hash));
    assert!(!fits("tern over the breakwater ", &hash));
    assert!(!fits("", &hash));
    assert!(!fits("x", "not a hash"));
    assert_ne!(hash, kept("tern over the breakwater").unwrap(), "salted");
    for bad in ["", "short", "aaaaaaaaaaaa", "abababababab", "Ragna-Ragna1"] {
        assert!(good_passphrase(bad, "Ragna").is_err(), "{bad}");
    }
    assert!(good_passphrase("tern over the breakwater", "Ragna").is_ok());
    for bad in [
        "",
        "123",
        "1234",
        "4321",
        "0000",
        "12a4",
        "123456789",
        " 4711",
    ] {
        assert!(good_pin(bad).is_err(), "{bad}");
    }
    assert!(good_pin("4711").is_ok() && good_pin("29058143").is_ok());
}

#[rocket::async_test]
async fn a_link_opens_one_job_until_it_runs_out_or_is_withdrawn_and_what_is_signed_stands_in_the_record()
 {
    let api = Api::start().await;
    let job = format!("/api/jobs/{}", api.shop.job);
    let other = json!({ "id": Uuid::now_v7(), "customer": "Petrel Post", "title": "", "vehicle_kind": "panel_van", "unit": "millimetre" });
    let other = api.post("/api/jobs", other).await.body;
    let photo = Uuid::now_v7();
    let bytes = std::fs::read(
        windrift_testkit::project().join("crates/formats/tests/data/photos/turned.jpg"),
    )
    .unwrap();
    let of_other = format!(
        "/api/jobs/{}/photos?photo={photo}",
        other["id"].as_str().unwrap()
    );
    assert_eq!(api.raw(&of_other, &bytes).await.status, 200);
    let own = Uuid::now_v7();
    assert_eq!(
        api.raw(&format!("{job}/photos?photo={own}"), &bytes)
            .await
            .status,
        200
    );
    for (whom, days, field) in [
        (" ", 14, "/whom"),
        ("The owner", 0, "/days"),
        ("The owner", 181, "/days"),
    ] {
        let new = json!({ "id": Uuid::now_v7(), "whom": whom, "days": days });
        let refused = api.post(&format!("{job}/links"), new).await;
        assert_eq!(
            (refused.status, refused.body["field"].as_str()),
            (422, Some(field))
        );
    }
    let id = Uuid::now_v7();
    let new = json!({ "id": id, "whom": "The owner", "days": 14 });
    let made = api.post(&format!("{job}/links"), new.clone()).await;
    assert_eq!(made.status, 200, "{}", made.body);
    let path = made.body["path"].as_str().unwrap().to_owned();
    // Shown once.
    assert_eq!(api.post(&format!("{job}/links"), new).await.status, 409);
    let all = api.get(&format!("{job}/links")).await;
    assert!(
        !all.to_string()
            .contains(path.trim_start_matches("/shared/"))
    );
    // Somebody else's browser, where nobody is signed in.
    let client = stranger(&api).await;
    let shared = format!("/api{path}");
    let seen = client.get(shared.clone()).dispatch().await;
    let seen: Value = serde_json::from_slice(&seen.into_bytes().await.unwrap()).unwrap();
    assert_eq!(seen["job"]["id"], json!(api.shop.job));
    for (path, status) in [
        (format!("{shared}/walk-round"), 200),
        (format!("{shared}/care"), 200),
        (format!("{shared}/photos/{own}"), 200),
        // No plan was issued yet; another job's photo; the job itself; any other address.
        (format!("{shared}/packet.pdf?paper=a4"), 404),
        (format!("{shared}/photos/{photo}"), 404),
        (job.clone(), 401),
        (format!("/api/sides/{}", api.shop.side), 401),
        ("/api/jobs".into(), 401),
        (format!("{shared}0"), 404),
    ] {
        assert_eq!(get(&client, &path).await, status, "{path}");
    }
    let sign = json!({ "id": Uuid::now_v7(), "name": "Ingrid <b>Holm</b>", "what": "walk_round" });
    for _ in 0..2 {
        let (status, body) = post(&client, &format!("{shared}/sign"), sign.clone()).await;
        assert_eq!(status, 200, "{body}");
    }
    let back = json!({ "id": Uuid::now_v7(), "name": "Ingrid Holm", "what": "hand_over" });
    let (status, walk) = post(&client, &format!("{shared}/sign"), back).await;
    assert_eq!(status, 200, "{walk}");
    assert!(
        walk["received"]
            .as_str()
            .unwrap()
            .starts_with("Ingrid Holm, by link, ")
    );
    let record = api.get(&format!("{job}/record")).await;
    let told: Vec<&str> = record["entries"]
        .as_array()
        .unwrap()
        .iter()
        .map(|e| e["what"].as_str().unwrap())
        .collect();
    assert_eq!(
        told,
        [
            "Ingrid <b>Holm</b>, by link signed for what was found.",
            "Ingrid Holm, by link has the vehicle back."
        ]
    );
    // After its time, and when it is withdrawn.
    sql(&api, "UPDATE link SET expires = now()").await;
    assert_eq!(get(&client, &shared).await, 404);
    sql(&api, "UPDATE link SET expires = now() + interval '1 day'").await;
    assert_eq!(get(&client, &shared).await, 200);
    assert_eq!(
        api.post(&format!("/api/links/{id}/withdraw"), Value::Null)
            .await
            .status,
        200
    );
    assert_eq!(get(&client, &shared).await, 404);
    let (status, _) = post(
        &client,
        &format!("{shared}/sign"),
        json!({ "id": Uuid::now_v7(), "name": "X", "what": "hand_over" }),
    )
    .await;
    assert_eq!(status, 404);
}

#[rocket::async_test]
async fn whoever_runs_it_sees_figures_with_a_key_and_finds_a_request_by_its_id() {
    let api = Api::start().await;
    assert_eq!(get(&api.client, "/api/ready").await, 200);
    let figures = async |key: Option<&'static str>| {
        let mut asked = api.client.get("/api/metrics");
        if let Some(key) = key {
            asked.add_header(Header::new("Authorization", key));
        }
        let answer = asked.dispatch().await;
        let status = answer.status().code;
        (status, answer.into_string().await.unwrap_or_default())
    };
    for key in [None, Some("the figures"), Some("Bearer other")] {
        assert_eq!(figures(key).await.0, 404, "{key:?}");
    }
    let secret = Uuid::now_v7();
    let missing = api
        .client
        .get(format!("/api/jobs/{secret}"))
        .dispatch()
        .await;
    let shown = missing
        .headers()
        .get_one("X-Request-Id")
        .unwrap()
        .to_owned();
    let body: Value = serde_json::from_slice(&missing.into_bytes().await.unwrap()).unwrap();
    assert_eq!(body["request"], json!(shown));
    let (status, text) = figures(Some("Bearer the figures")).await;
    assert_eq!(status, 200);
    // By route, never by key: what a label holds is no secret and does not grow without end.
    let line = text.lines().find(|l| {
        l.contains("windrift_request_seconds_count")
            && l.contains("/api/jobs/<id>\"")
            && l.contains("404")
    });
    assert!(line.is_some_and(|l| l.ends_with(" 1")), "{text}");
    assert!(!text.contains(&secret.to_string()));
    // A database that lacks a step is not ready.
    sql(
        &api,
        "DELETE FROM seaql_migrations WHERE version LIKE '%names'",
    )
    .await;
    assert_eq!(get(&api.client, "/api/ready").await, 503);
}
