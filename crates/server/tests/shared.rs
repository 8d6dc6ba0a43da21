//! Two servers behind which one shop works, and what a shop settles: each answers what the other changed, and paper follows the settings.

use crate::common::{Api, lettering, sign_in_all};
use rocket::http::{ContentType, Header};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_server::{Setup, build};

/// A second server over the same database.
async fn beside(api: &Api) -> Client {
    let setup = Setup {
        tls: false,
        metrics_key: Some("the figures".into()),
        ..Setup::local(
            0,
            std::env::temp_dir(),
            env!("CARGO_BIN_EXE_windrift-server-tested").into(),
        )
    };
    let client = Client::tracked(build(api.cluster.store().await, setup))
        .await
        .unwrap();
    sign_in_all(&client, &api.shop).await;
    client
}

async fn asked(client: &Client, path: &str) -> Value {
    let response = client.get(path.to_owned()).dispatch().await;
    assert_eq!(response.status().code, 200, "{path}");
    serde_json::from_slice(&response.into_bytes().await.unwrap()).unwrap()
}

async fn settle(api: &Api, change: Value) -> crate::common::Answer {
    let shop = api.get("/api/shop").await;
    let mut settings = shop["settings"].clone();
    for (key, value) in change.as_object().unwrap() {
        settings[key] = value.clone();
    }
    let seen = format!("\"{}\"", shop["settings_revision"]);
    api.call("PUT", "/api/shop/settings", settings, &[("If-Match", seen)])
        .await
}

#[rocket::async_test]
async fn what_one_server_changes_the_other_answers_and_refuses_to_overwrite() {
    let api = Api::start().await;
    let other = beside(&api).await;
    let side = format!("/api/sides/{}", api.shop.side);
    let piece = api.piece(lettering("HAVEN", "10", "18", "24")).await;
    // Planned by both, so that both have kept it.
    let first = api.get(&side).await;
    assert_eq!(asked(&other, &side).await["pieces"], first["pieces"]);
    let spec = lettering("HAVEN", "10", "30", "24");
    let moved = api
        .put(&format!("/api/pieces/{piece}"), 1, spec.clone())
        .await;
    assert_eq!(moved.status, 200, "{}", moved.body);
    for seen in [api.get(&side).await, asked(&other, &side).await] {
        assert_eq!(seen["pieces"][0]["readings"]["first_letter"]["text"], "30");
    }
    // Whoever saw the older one through the other server overwrites nothing.
    let stale = other
        .put(format!("/api/pieces/{piece}"))
        .header(ContentType::JSON)
        .header(Header::new("Crew-Id", api.who.to_string()))
        .header(Header::new("Edit-Id", Uuid::now_v7().to_string()))
        .header(Header::new("If-Match", "\"1\""))
        .body(json!({ "spec": spec }).to_string())
        .dispatch()
        .await;
    assert_eq!(stale.status().code, 409);
    // The shop's words are the same at both, at once.
    let words = settle(&api, json!({ "side_words": "near_off_keep_left" })).await;
    assert_eq!(words.status, 200, "{}", words.body);
    for seen in [api.get(&side).await, asked(&other, &side).await] {
        assert_eq!(seen["name"], "near side");
    }
}

/// An edit on one side leaves what was worked out for a side that it does not touch, and reaches the one that mirrors it.
#[rocket::async_test]
async fn an_edit_reaches_the_sides_that_follow_from_it() {
    let api = Api::start().await;
    let job = format!("/api/jobs/{}", api.shop.job);
    api.piece(lettering("HAVEN", "10", "18", "24")).await;
    let other = Uuid::now_v7();
    let start = json!({ "id": other, "start": { "from": "mirror_of", "side": api.shop.side } });
    api.post(&format!("{job}/sides"), start).await;
    let mirror = format!("/api/sides/{}/pieces/mirror", api.shop.side);
    assert_eq!(api.post(&mirror, json!({ "pieces": [] })).await.status, 200);
    let there = format!("/api/sides/{other}");
    let before = api.get(&there).await;
    let here = api.get(&format!("/api/sides/{}", api.shop.side)).await;
    let (piece, revision) = (
        &here["pieces"][0]["id"],
        here["pieces"][0]["revision"].as_i64().unwrap(),
    );
    let path = format!("/api/pieces/{}", piece.as_str().unwrap());
    let moved = api
        .put(&path, revision, lettering("HAVEN", "10", "60", "24"))
        .await;
    assert_eq!(moved.status, 200, "{}", moved.body);
    let after = api.get(&there).await;
    assert_ne!(
        before["pieces"][0]["readings"],
        after["pieces"][0]["readings"]
    );
    // And in the picture of the job.
    let film = |job: &Value, n: usize| job["sides"][n]["film"].clone();
    let job = api.get(&job).await;
    assert!(film(&job, 0) != Value::Null && film(&job, 1)[0]["path"] != film(&job, 0)[0]["path"]);
}

#[rocket::async_test]
async fn paper_and_record_tell_the_shops_own_hour() {
    let api = Api::start().await;
    let piece = api.piece(lettering("HAVEN", "10", "18", "24")).await;
    assert_eq!(api.read_ends(&piece, "24", "24").await.status, 200);
    let record = format!("/api/jobs/{}/record", api.shop.job);
    let at = async || {
        let page = api.get(&record).await;
        page["entries"][0]["at"].as_str().unwrap().to_owned()
    };
    let hour = |words: &str| -> i64 {
        let clock = words.rsplit(' ').next().unwrap();
        let (h, m) = clock.split_once(':').unwrap();
        h.parse::<i64>().unwrap() * 60 + m.parse::<i64>().unwrap()
    };
    let utc = at().await;
    assert_eq!(api.get(&record).await["zone"], "UTC");
    // 5 h 45 min before the clock there; no daylight saving since 1986 (IANA database).
    let settled = settle(&api, json!({ "zone": "Asia/Kathmandu" })).await;
    assert_eq!(settled.status, 200, "{}", settled.body);
    assert_eq!(
        (hour(&at().await) - hour(&utc)).rem_euclid(24 * 60),
        5 * 60 + 45
    );
    assert_eq!(api.get(&record).await["zone"], "Asia/Kathmandu");
    let plan = api
        .post(
            &format!("/api/jobs/{}/plans", api.shop.job),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    let packet = format!(
        "/api/plans/{}/packet.pdf",
        plan.body["id"].as_str().unwrap()
    );
    assert!(api.pdf(&packet).await.contains("Asia/Kathmandu"));
    // The hour of issue stays on the clock by which it was issued.
    settle(&api, json!({ "zone": "UTC" })).await;
    let later = api.pdf(&packet).await;
    assert!(
        later.contains("Asia/Kathmandu") && later.contains("UTC"),
        "{later}"
    );
    let nowhere = settle(&api, json!({ "zone": "Nowhere/Town" })).await;
    assert_eq!(
        (nowhere.status, nowhere.body["field"].as_str()),
        (422, Some("/zone"))
    );
    assert!(
        nowhere.body["detail"]
            .as_str()
            .unwrap()
            .contains("Nowhere/Town")
    );
}
