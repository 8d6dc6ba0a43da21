//! Strip, Prep and the bay by API on a real PostgreSQL: what is recorded, what follows from it, and who may not.

use std::io::Write;
use std::process::{Command, Stdio};

use crate::bundles::bytes_of;
use crate::common::{Answer, Api, lettering};
use serde_json::{Value, json};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

fn graphic(side: Uuid, letters: u32) -> Value {
    json!({
        "what": "found", "side": side, "name": "old name", "kind": "cut_lettering", "age_years": 15, "faced": "sun",
        "cold_corner": "not_tried", "back_mm": "3'", "drop_mm": "20", "width_mm": "10'", "height_mm": "12", "letters": letters
    })
}

async fn say(api: &Api, job: Uuid, stage: &str, entry: Value) -> Answer {
    let body = json!({ "id": Uuid::now_v7(), "entry": entry });
    api.post(&format!("/api/jobs/{job}/{stage}"), body).await
}

async fn strip(api: &Api, entry: Value) -> Value {
    let done = say(api, api.shop.job, "strip", entry).await;
    assert_eq!(done.status, 200, "{}", done.body);
    done.body
}

/// Another job in the same shop, and its left side.
async fn another(api: &Api) -> (Uuid, Uuid) {
    let id = Uuid::now_v7();
    let body = json!({
        "id": id, "customer": "Eider Freight", "title": "", "vehicle_kind": "box_truck", "unit": "inch_sixteenth",
    });
    let done = api.post("/api/jobs", body).await;
    assert_eq!(done.status, 200, "{}", done.body);
    let side = done.body["sides"][0]["id"].as_str().unwrap();
    (id, side.parse().unwrap())
}

fn high(view: &Value) -> f64 {
    view["done_by"]["hours"][2].as_f64().unwrap()
}

#[rocket::async_test]
async fn old_film_is_found_patched_and_taken_off_and_the_hours_follow() {
    let api = Api::start().await;
    let found = strip(&api, graphic(api.shop.side, 12)).await;
    let old = found["old"][0]["id"].clone();
    assert_eq!(
        found["old"][0]["next"]["asks"], "cold_corner",
        "{}",
        found["old"][0]["next"]
    );
    assert!(
        found["done_by"]["why"][2]
            .as_str()
            .unwrap()
            .contains("Nothing was timed")
    );
    assert_eq!(found["old"][0]["cells"].as_array().unwrap().len(), 12);
    // Its cells lie where the tape would measure them: 3 ft back, 20 in down, 10 ft by 12 in in twelve parts.
    let outline = &found["old"][0]["cells"][11]["outline"];
    let at = |n: usize, k: usize| outline[n][k].as_f64().unwrap();
    assert!((at(0, 0) - 914.4 - 3048.0 * 11.0 / 12.0).abs() < 0.1);
    assert!((at(2, 0) - 914.4 - 3048.0).abs() < 0.1 && (at(2, 1) - at(0, 1) - 304.8).abs() < 0.1);

    let mut changed = graphic(api.shop.side, 12);
    changed.as_object_mut().unwrap().remove("what");
    changed["cold_corner"] = "chips".into();
    let now = strip(
        &api,
        json!({ "what": "changed", "old": old, "graphic": changed }),
    )
    .await;
    assert_eq!(now["old"][0]["next"]["asks"], "patch");
    assert_eq!(now["old"][0]["plan"]["ways"][0]["way"], "chip_warm");
    let before = high(&now);
    // Five letters in 5:00 and their adhesive in 2:30: eighteen minutes for twelve, if they told all; the prior, that says over an hour,
    // still holds a quarter of it.
    let patch = json!({ "what": "patch", "old": old, "stands_for": "typical", "amount": 5, "film_seconds": 300, "adhesive_seconds": 150,
        "left": "heavy", "ghost": true });
    let patched = strip(&api, patch.clone()).await;
    assert!(high(&patched) < before);
    let half = patched["done_by"]["hours"][1].as_f64().unwrap();
    assert!((0.3..0.55).contains(&half), "{half}");
    // Heavy adhesive on 0.93 m² of it: 139 ml, a third either way.
    let ml = &patched["old"][0]["plan"]["remover_ml"];
    let middle = (ml[0].as_f64().unwrap() + ml[1].as_f64().unwrap()) / 2.0;
    assert!((middle - 150.0 * 3.048 * 0.3048).abs() < 0.5, "{ml}");
    // A patch that was timed wrongly is struck with a reason, and both stay in the record.
    let worst = json!({ "what": "patch", "old": old, "stands_for": "worst", "amount": 2, "film_seconds": 2000, "left": "none" });
    let with_worst = strip(&api, worst).await;
    assert!(high(&with_worst) > high(&patched));
    let second = with_worst["old"][0]["patches"][1]["id"].clone();
    let struck = strip(
        &api,
        json!({ "what": "patch_struck", "patch": second, "note": "the watch ran on over lunch" }),
    )
    .await;
    assert_eq!(struck["old"][0]["patches"].as_array().unwrap().len(), 1);

    // What is done once is done once: the same id again, and the same cells under another.
    let id = Uuid::now_v7();
    let entry =
        json!({ "what": "done", "old": old, "phase": "film", "cells": [0, 1, 2], "seconds": 170 });
    let body = json!({ "id": id, "entry": entry });
    let path = format!("/api/jobs/{}/strip", api.shop.job);
    let once = api.post(&path, body.clone()).await;
    let twice = api.post(&path, body).await;
    assert_eq!(once.body["old"], twice.body["old"]);
    let all: Vec<u32> = (0..12).collect();
    let cleaned = strip(
        &api,
        json!({ "what": "done", "old": old, "phase": "adhesive", "cells": all }),
    )
    .await;
    assert_eq!(cleaned["old"][0]["off"], true);
    assert!(cleaned["done_by"].is_null());
    let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    let stage = |which: &str| {
        let all = job["stages"].as_array().unwrap();
        all.iter().find(|s| s["stage"] == which).unwrap()["state"].clone()
    };
    assert_eq!(stage("strip"), "done");

    // The next job of the same kind begins from what this one took.
    let (other, side) = another(&api).await;
    let begun = say(&api, other, "strip", graphic(side, 8)).await.body;
    let rate = &begun["old"][0]["rates"][0];
    assert!(
        rate["from"]
            .as_str()
            .unwrap()
            .starts_with("from 1 finished job"),
        "{rate}"
    );
    // The record tells all of it, and is whole.
    let record = api
        .get(&format!("/api/jobs/{}/record", api.shop.job))
        .await
        .to_string();
    for words in [
        "Test patch, typical, 5.00: film 5:00, adhesive 2:30; much adhesive left, a ghost is left.",
        "A test patch was struck: the watch ran on over lunch.",
        "Film off 3 parts in 2:50.",
        "Adhesive off 12 parts.",
    ] {
        assert!(record.contains(words), "{words}: {record}");
    }
}

#[rocket::async_test]
async fn what_cannot_be_is_refused_in_a_sentence_and_keeps_what_stands() {
    let api = Api::start().await;
    let found = strip(&api, graphic(api.shop.side, 12)).await;
    let old = found["old"][0]["id"].clone();
    let patch = |amount: f64, seconds: f64| json!({ "what": "patch", "old": old, "stands_for": "worst", "amount": amount, "film_seconds": seconds, "left": "none" });
    let mut aged = graphic(api.shop.side, 12);
    aged["age_years"] = (-2).into();
    let mut off = graphic(api.shop.side, 12);
    off["back_mm"] = "20'".into();
    let mut nowhere = graphic(Uuid::now_v7(), 12);
    nowhere["name"] = "elsewhere".into();
    for (entry, status, words) in [
        (patch(5.0, 0.0), 422, "from 1 second to 8 hours"),
        (patch(0.0, 60.0), 422, "More than 0"),
        (patch(0.2, 60.0), 422, "tells nothing"),
        (patch(50.0, 60.0), 422, "a part of that"),
        (aged, 422, "From 0 to 60"),
        (off, 422, "not on the side"),
        (nowhere, 404, "no such side"),
        (
            json!({ "what": "done", "old": Uuid::now_v7(), "phase": "film", "cells": [0] }),
            404,
            "no such old graphic",
        ),
        (
            json!({ "what": "gone", "old": old, "note": " " }),
            422,
            "Say why",
        ),
        (json!({ "what": "hands", "people": 90 }), 422, "From 1 to 8"),
    ] {
        let refused = say(&api, api.shop.job, "strip", entry.clone()).await;
        assert_eq!(refused.status, status, "{entry}: {}", refused.body);
        let told = refused.body["detail"].as_str().unwrap();
        assert!(told.contains(words), "{entry}: {told}");
    }
    let viewer = [("Crew-Id", api.shop.crew[2].to_string())];
    let body = json!({ "id": Uuid::now_v7(), "entry": { "what": "hands", "people": 2 } });
    let path = format!("/api/jobs/{}/strip", api.shop.job);
    assert_eq!(api.call("POST", &path, body, &viewer).await.status, 403);
    let now = api.get(&path).await;
    assert_eq!(now["old"], found["old"]);
}

#[rocket::async_test]
async fn heat_is_locked_by_whatever_is_wet_in_the_same_bay_and_by_nothing_in_another() {
    let api = Api::start().await;
    let (other, _) = another(&api).await;
    let locked = |job: Uuid| {
        let path = format!("/api/jobs/{job}/bay");
        let api = &api;
        async move { api.get(&path).await["heat_locked"].clone() }
    };
    assert!(locked(api.shop.job).await.is_null());
    let wet = json!({ "what": "wet", "wet": "remover", "place": "bow" });
    assert_eq!(say(&api, other, "bay", wet.clone()).await.status, 200);
    let told = locked(api.shop.job).await;
    let told = told.as_str().unwrap();
    assert!(
        told.contains("adhesive remover at bow on another job"),
        "{told}"
    );
    // In another bay it locks nothing; what is put on there locks only there.
    let moved = json!({ "what": "stands_in", "bay": "Yard" });
    assert_eq!(say(&api, api.shop.job, "bay", moved).await.status, 200);
    assert!(locked(api.shop.job).await.is_null());
    let here = json!({ "what": "wet", "wet": "alcohol", "place": "rear", "bay": "Bay 1" });
    say(&api, api.shop.job, "bay", here).await;
    assert!(
        locked(api.shop.job)
            .await
            .as_str()
            .unwrap()
            .contains("rear")
    );
    assert!(locked(other).await.as_str().unwrap().contains("bow"));
    // What was put on before it could be sent counts from when it was put on.
    let (third, _) = another(&api).await;
    say(
        &api,
        third,
        "bay",
        json!({ "what": "stands_in", "bay": "Shed" }),
    )
    .await;
    let before = OffsetDateTime::now_utc() - Duration::minutes(20);
    let body = json!({ "id": Uuid::now_v7(), "entry": wet });
    let path = format!("/api/jobs/{third}/bay");
    let headers = [("Read-At", before.format(&Rfc3339).unwrap())];
    assert_eq!(api.call("POST", &path, body, &headers).await.status, 200);
    assert!(locked(third).await.is_null());
}

/// A vehicle in a yard: wind, sun and rain are asked for, sensors of the hall say nothing of it, and two who stand in one yard have one weather.
#[rocket::async_test]
async fn in_a_yard_the_gate_asks_for_wind_sun_and_rain() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    api.panel("print", ["120", "60"], "2'").await;
    let path = format!("/api/sides/{side}/prep");
    let line = |view: &Value, key: &str| {
        let lines = view["gate"]["lines"].as_array().unwrap();
        let found = lines.iter().find(|l| l["key"] == key);
        found.map(|l| {
            let text = |field: &str| l[field].as_str().unwrap().to_owned();
            (text("stands"), text("says"))
        })
    };
    assert_eq!(line(&api.get(&path).await, "wind"), None);
    // What was read in the hall says nothing of the yard.
    for spot in ["low", "member", "field"] {
        let read =
            json!({ "what": "panel", "side": side, "spot": spot, "by": "probe", "celsius": 20.0 });
        assert_eq!(say(&api, job, "prep", read).await.status, 200);
    }
    assert_ne!(line(&api.get(&path).await, "panel").unwrap().0, "unknown");
    let yard = json!({ "what": "stands_in", "bay": "Back yard", "open_air": true });
    assert_eq!(say(&api, job, "bay", yard.clone()).await.status, 200);
    let view = api.get(&path).await;
    assert_eq!(line(&view, "panel").unwrap().0, "unknown");
    assert_eq!(view["bay"]["open_air"], true);
    for key in ["wind", "sun"] {
        assert_eq!(line(&view, key).unwrap().0, "unknown", "{key}");
    }
    // Somebody else's job in the same yard: one weather for both; the sun is each side's own.
    let (other, _) = another(&api).await;
    say(&api, other, "bay", yard).await;
    let weather = json!({ "what": "weather", "wind": "gentle", "rain": "threatens" });
    assert_eq!(say(&api, other, "bay", weather).await.status, 200);
    let sun = json!({ "what": "sun", "side": side, "sun": "here" });
    assert_eq!(say(&api, job, "prep", sun).await.status, 200);
    let view = api.get(&path).await;
    // By hand: 120 by 60 in is 4.645 m²; 1.2 x 0.5 x 1.225 x 5.4 x 5.4 x 4.645 is 99.6 N, 22 lb.
    let (stands, says) = line(&view, "wind").unwrap();
    assert_eq!(stands, "out");
    assert!(
        says.contains("up to 12 mph") && says.contains("22 lb"),
        "{says}"
    );
    assert_eq!(line(&view, "rain").unwrap().0, "near");
    assert_eq!(line(&view, "sun").unwrap().0, "near");
    assert!(view["warm"].is_null());
    let told: Vec<&str> = (view["cautions"].as_array().unwrap().iter())
        .filter_map(Value::as_str)
        .collect();
    assert!(told.iter().any(|c| c.starts_with("In a yard")), "{told:?}");
    // Back in a hall nothing of it is asked, and the yard is offered as what it is.
    say(
        &api,
        job,
        "bay",
        json!({ "what": "stands_in", "bay": "Bay 1" }),
    )
    .await;
    let view = api.get(&path).await;
    assert_eq!(line(&view, "wind"), None);
    let places = view["bay"]["others"].as_array().unwrap();
    assert!(
        places.contains(&json!({ "name": "Back yard", "open_air": true })),
        "{places:?}"
    );
    let wrong = json!({ "what": "weather", "wind": "a storm", "rain": "dry" });
    assert_eq!(say(&api, job, "bay", wrong).await.status, 422);
}

/// Promoter is tacky after 10 minutes by one school and a couple by the other (common practice, no source): the shop says which is its own.
#[rocket::async_test]
async fn promoter_is_tacky_by_the_shops_own_school() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    let piece = api.panel("print", ["40", "20"], "2'").await;
    let path = format!("/api/sides/{side}/prep");
    let run = api.get(&path).await["pieces"][0]["runs"][0]["name"].clone();
    let on = json!({ "what": "promoted", "piece": piece, "run": run });
    assert_eq!(say(&api, job, "prep", on).await.status, 200);
    let minutes = async || {
        let tacky = api.get(&path).await["pieces"][0]["runs"][0]["tacky"].clone();
        let at = OffsetDateTime::parse(tacky.as_str().unwrap(), &Rfc3339).unwrap();
        ((at - OffsetDateTime::now_utc()).as_seconds_f64() / 60.0).round()
    };
    assert_eq!(minutes().await, 10.0);
    let shop = api.get("/api/shop").await;
    let mut settings = shop["settings"].clone();
    for (minutes, status) in [(0.0, 422), (2.0, 200)] {
        settings["tacky_minutes"] = json!(minutes);
        let seen = [("If-Match", format!("\"{}\"", shop["settings_revision"]))];
        let kept = api
            .call("PUT", "/api/shop/settings", settings.clone(), &seen)
            .await;
        assert_eq!(kept.status, status, "{}", kept.body);
    }
    assert_eq!(minutes().await, 2.0);
}

#[rocket::async_test]
async fn the_gate_opens_line_by_line_and_only_the_lead_goes_past_it() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    api.piece(lettering("HAVEN", "10", "3'", "30")).await;
    let path = format!("/api/sides/{side}/prep");
    let stands = |view: &Value, key: &str| {
        let lines = view["gate"]["lines"].as_array().unwrap();
        lines.iter().find(|l| l["key"] == key).unwrap()["stands"].clone()
    };
    let view = api.get(&path).await;
    for key in ["panel", "air", "acclimatised", "clean", "hands"] {
        assert_eq!(stands(&view, key), "unknown", "{key}: {view}");
    }
    // Lettering is on transfer tape: no promoter and no cutting tape under it.
    assert_eq!(view["pieces"].as_array().unwrap().len(), 0);
    let prep = |entry: Value| say(&api, job, "prep", entry);
    for (words, entry) in [
        (
            "no panel that film goes on",
            json!({ "what": "panel", "side": side, "spot": "low", "by": "probe", "celsius": 300 }),
        ),
        (
            "no such side",
            json!({ "what": "cleaned", "side": Uuid::now_v7(), "step": "wash" }),
        ),
        ("hours", json!({ "what": "came_in", "hours_ago": -1 })),
        (
            "Say why",
            json!({ "what": "passed", "side": side, "reason": "" }),
        ),
    ] {
        let refused = prep(entry).await;
        assert!(refused.status == 422 || refused.status == 404);
        assert!(refused.body["detail"].as_str().unwrap().contains(words));
    }
    let damp = json!({ "what": "air", "celsius": 21, "humidity": 140 });
    let refused = say(&api, job, "bay", damp).await;
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("1 to 100")
    );

    for step in view["steps"].as_array().unwrap() {
        let done = prep(json!({ "what": "cleaned", "side": side, "step": step["key"] })).await;
        assert_eq!(done.status, 200, "{}", done.body);
    }
    prep(json!({ "what": "hands", "clean": true })).await;
    prep(json!({ "what": "came_in", "hours_ago": 30 })).await;
    say(
        &api,
        job,
        "bay",
        json!({ "what": "air", "celsius": 21, "humidity": 45 }),
    )
    .await;
    for spot in ["low", "member", "field"] {
        prep(json!({ "what": "panel", "side": side, "spot": spot, "by": "infrared", "celsius": 20.5 }))
            .await;
    }
    let view = api.get(&path).await;
    assert_eq!(view["gate"]["stands"], "in", "{}", view["gate"]);
    assert!(view["next"]["says"].as_str().unwrap().contains("Ready"));

    // A colder foot, one reading later: out. A fitter may not pass it, the lead may, and what he passed stands beside the reason.
    prep(json!({ "what": "panel", "side": side, "spot": "low", "by": "infrared", "celsius": 2 }))
        .await;
    let view = api.get(&path).await;
    assert_eq!(
        (&view["gate"]["stands"], stands(&view, "panel")),
        (&json!("out"), json!("out"))
    );
    let pass = json!({ "id": Uuid::now_v7(), "entry": { "what": "passed", "side": side, "reason": "The owner waits." } });
    let fitter = [("Crew-Id", api.shop.crew[1].to_string())];
    let path_of = format!("/api/jobs/{job}/prep");
    assert_eq!(
        api.call("POST", &path_of, pass.clone(), &fitter)
            .await
            .status,
        403
    );
    assert_eq!(api.post(&path_of, pass).await.status, 200);
    let view = api.get(&path).await;
    assert!(
        view["passed"]
            .as_str()
            .unwrap()
            .contains("The owner waits.")
    );
    let record = api
        .get(&format!("/api/jobs/{job}/record"))
        .await
        .to_string();
    assert!(
        record.contains("Against: Panel 36 °F at its coldest"),
        "{record}"
    );
}

#[rocket::async_test]
async fn on_bright_metal_only_what_can_be_believed_counts_and_no_reason_passes_a_surface_that_says_no()
 {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    let path = format!("/api/sides/{side}/prep");
    let kept = api.get(&format!("/api/sides/{side}")).await;
    let mut spec = kept["spec"].clone();
    spec["surface"] = json!({ "material": "bare_aluminium", "finish": "original" });
    let done = api
        .put(
            &format!("/api/sides/{side}"),
            kept["revision"].as_i64().unwrap(),
            spec.clone(),
        )
        .await;
    assert_eq!(done.status, 200, "{}", done.body);
    for spot in ["low", "member", "field"] {
        let entry =
            json!({ "what": "panel", "side": side, "spot": spot, "by": "infrared", "celsius": 20 });
        say(&api, job, "prep", entry).await;
    }
    let view = api.get(&path).await;
    assert_eq!(view["bright_metal"], true);
    let lines = view["gate"]["lines"].to_string();
    assert!(lines.contains("mirrors the hall"), "{lines}");
    assert!(view["readings"][0]["counts"] == false);
    // Film finds no hold on polyethylene: Look over says so, and so does the gate; glass that the driver looks through lets nobody by.
    api.piece(lettering("HAVEN", "10", "3'", "30")).await;
    spec["surface"] = json!({ "material": "glass", "finish": "original" });
    let kept = api.get(&format!("/api/sides/{side}")).await;
    api.put(
        &format!("/api/sides/{side}"),
        kept["revision"].as_i64().unwrap(),
        spec,
    )
    .await;
    let view = api.get(&path).await;
    assert_eq!(view["gate"]["never"], true, "{}", view["gate"]);
    let refused = say(
        &api,
        job,
        "prep",
        json!({ "what": "passed", "side": side, "reason": "all the same" }),
    )
    .await;
    assert_eq!(refused.status, 422);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("No reason passes")
    );
}

#[rocket::async_test]
async fn a_sensor_sends_with_its_key_and_is_believed_only_while_it_speaks_sense() {
    let api = Api::start().await;
    let id = Uuid::now_v7();
    let new = json!({ "id": id, "bay": "Bay 1", "name": "by the door" });
    let fitter = [("Crew-Id", api.shop.crew[1].to_string())];
    assert_eq!(
        api.call("POST", "/api/devices", new.clone(), &fitter)
            .await
            .status,
        403
    );
    let made = api.post("/api/devices", new.clone()).await;
    let key = made.body["key"].as_str().unwrap().to_owned();
    assert!(key.len() >= 64);
    // It is shown once: made again it is refused, and no list has it.
    assert_eq!(api.post("/api/devices", new).await.status, 409);
    assert!(!api.get("/api/devices").await.to_string().contains(&key));

    let with = |key: &str| vec![("Device-Key", key.to_owned())];
    let now = OffsetDateTime::now_utc();
    let at = |ago: Duration| (now - ago).format(&Rfc3339).unwrap();
    let reading = |ago: Duration, celsius: f64| json!({ "at": at(ago), "celsius": celsius, "humidity": 45, "surface": 12.5 });
    let send = |readings: Value, headers: Vec<(&'static str, String)>| {
        let api = &api;
        async move {
            api.call(
                "POST",
                "/api/readings",
                json!({ "readings": readings }),
                &headers,
            )
            .await
        }
    };
    assert_eq!(
        send(json!([reading(Duration::ZERO, 20.0)]), vec![])
            .await
            .status,
        401
    );
    assert_eq!(
        send(json!([reading(Duration::ZERO, 20.0)]), with("wrong"))
            .await
            .status,
        401
    );
    for (body, words) in [
        (json!([]), "from 1 to 600"),
        (
            json!([reading(-Duration::hours(1), 20.0)]),
            "from the future",
        ),
        (
            json!([reading(Duration::days(9), 20.0)]),
            "more than a week",
        ),
        (
            json!([{ "celsius": 20, "humidity": 140 }]),
            "1 to 100 percent",
        ),
        (json!([{ "celsius": 300, "humidity": 40 }]), "-40 to 60"),
        (
            json!([{ "celsius": 20, "humidity": 40, "surface": 400 }]),
            "Look at the probe",
        ),
    ] {
        let refused = send(body.clone(), with(&key)).await;
        assert_eq!(refused.status, 422, "{body}: {}", refused.body);
        assert!(
            refused.body["detail"].as_str().unwrap().contains(words),
            "{}",
            refused.body
        );
    }
    // Kept one in ten seconds; the same moments again are kept once.
    let minute: Vec<Value> = (0..60)
        .rev()
        .map(|s| reading(Duration::seconds(s), 20.5))
        .collect();
    let kept = send(json!(minute), with(&key)).await;
    assert_eq!(kept.body["kept"], 6, "{}", kept.body);
    assert_eq!(send(json!(minute), with(&key)).await.body["kept"], 0);
    let path = format!("/api/jobs/{}/bay", api.shop.job);
    let bay = api.get(&path).await;
    assert!(bay["sensors"][0]["doubt"].is_null(), "{bay}");
    assert!(
        bay["air"]["says"]
            .as_str()
            .unwrap()
            .starts_with("69 °F, 45 %, dew point")
    );
    assert_eq!(
        api.get(&format!("/api/devices/{id}/readings?hours=1"))
            .await
            .as_array()
            .unwrap()
            .len(),
        6
    );

    // One that jumps, and one that is silent, is not believed any more: the gate no longer knows.
    let jumps = api
        .post(
            "/api/devices",
            json!({ "id": Uuid::now_v7(), "bay": "Jump", "name": "wild" }),
        )
        .await;
    let wild = jumps.body["key"].as_str().unwrap().to_owned();
    send(
        json!([
            reading(Duration::seconds(30), 20.0),
            reading(Duration::ZERO, 55.0)
        ]),
        with(&wild),
    )
    .await;
    say(
        &api,
        api.shop.job,
        "bay",
        json!({ "what": "stands_in", "bay": "Jump" }),
    )
    .await;
    let bay = api.get(&path).await;
    assert!(
        bay["sensors"][0]["doubt"]
            .as_str()
            .unwrap()
            .contains("jumps")
    );
    assert!(bay["air"].is_null());
    let quiet = api
        .post(
            "/api/devices",
            json!({ "id": Uuid::now_v7(), "bay": "Quiet", "name": "old" }),
        )
        .await;
    let quiet = quiet.body["key"].as_str().unwrap().to_owned();
    send(json!([reading(Duration::minutes(40), 20.0)]), with(&quiet)).await;
    say(
        &api,
        api.shop.job,
        "bay",
        json!({ "what": "stands_in", "bay": "Quiet" }),
    )
    .await;
    let bay = api.get(&path).await;
    assert!(
        bay["sensors"][0]["doubt"]
            .as_str()
            .unwrap()
            .contains("Silent for 40 min")
    );
    let prep = api.get(&format!("/api/sides/{}/prep", api.shop.side)).await;
    let lines = prep["gate"]["lines"].as_array().unwrap();
    assert!(
        lines
            .iter()
            .any(|l| l["key"] == "air" && l["stands"] == "unknown")
    );

    // Withdrawn, its key is nobody's; the other devices go on.
    assert_eq!(
        api.call(
            "POST",
            &format!("/api/devices/{id}/withdraw"),
            Value::Null,
            &fitter
        )
        .await
        .status,
        403
    );
    assert_eq!(
        api.post(&format!("/api/devices/{id}/withdraw"), Value::Null)
            .await
            .status,
        200
    );
    assert_eq!(
        send(json!([reading(Duration::ZERO, 20.0)]), with(&key))
            .await
            .status,
        401
    );
    // A flood is refused, and nothing else slows: at most 30 a second.
    // All at once, so that no machine is slow enough to spread them over seconds.
    let flood = (0..200).map(|_| send(json!([reading(Duration::ZERO, 20.0)]), with(&wild)));
    let answers = rocket::futures::future::join_all(flood).await;
    let refused = answers.iter().filter(|a| a.status == 429).count();
    assert!(refused > 0);
    assert_eq!(
        send(json!([reading(Duration::ZERO, 20.0)]), with(&quiet))
            .await
            .status,
        200
    );
}

#[rocket::async_test]
async fn heat_is_read_over_film_that_lies_and_a_run_is_closed_by_what_was_measured() {
    let api = Api::start().await;
    let side = api.shop.side;
    let piece = api.panel("badge print", ["6", "4"], "3'").await;
    let path = format!("/api/sides/{side}/heat");
    let view = api.get(&path).await;
    let run = view["pieces"][0]["runs"][0].clone();
    // Its edge: 2 · (6 + 4) in.
    assert_eq!(
        (run["name"].as_str(), run["length"]["text"].as_str()),
        (Some("edge on the flat"), Some("20"))
    );
    assert_eq!(view["pieces"][0]["laid"], false);
    let say = |entry: Value| {
        let (api, piece) = (&api, piece.clone());
        async move {
            let body = json!({ "id": Uuid::now_v7(), "entry": entry });
            api.post(&format!("/api/pieces/{piece}/heat"), body).await
        }
    };
    let read = |along: &str, celsius: f64| json!({ "what": "read", "run": "edge on the flat", "along_mm": along, "celsius": celsius });
    let refused = say(read("1", 88.0)).await;
    assert_eq!(
        (refused.status, refused.body["code"].as_str()),
        (422, Some("not_laid"))
    );
    api.lies(&piece).await;

    for (entry, words) in [
        (read("1", 900.0), "no reading of warm film"),
        (read("30", 88.0), "past its end"),
        (read("some way", 88.0), "some way"),
        (
            json!({ "what": "read", "run": "elsewhere", "along_mm": "1", "celsius": 88 }),
            "no such run",
        ),
        (
            json!({ "what": "closed", "run": "edge on the flat" }),
            "0 % of it is known",
        ),
        (
            json!({ "what": "sealed", "run": "edge on the flat" }),
            "no such run",
        ),
    ] {
        let refused = say(entry).await;
        assert!(
            refused.status == 422 || refused.status == 404,
            "{}",
            refused.body
        );
        assert!(
            refused.body["detail"].as_str().unwrap().contains(words),
            "{}",
            refused.body
        );
    }
    // Nine of ten readings every 2 in: a gap of 2 in, and no claim that all of it reached.
    for n in 0..9 {
        let done = say(read(&format!("{}", 2 * n + 1), 88.0)).await;
        assert_eq!(done.status, 200, "{}", done.body);
    }
    let view = api.get(&path).await;
    let run = &view["pieces"][0]["runs"][0];
    assert!((run["share"].as_f64().unwrap() - 0.9).abs() < 1e-6);
    assert_eq!(run["gap"], "From 18 to 20: not measured.");
    let closed = say(json!({ "what": "closed", "run": "edge on the flat" })).await;
    assert!(
        closed.body["detail"]
            .as_str()
            .unwrap()
            .starts_with("90 % of it")
    );
    // Too cold there, walked again, closed; a reading of what passed its ceiling is kept and told.
    say(read("19", 60.0)).await;
    let view = api.get(&path).await;
    assert!(
        view["pieces"][0]["next"]["says"]
            .as_str()
            .unwrap()
            .contains("go back while it is warm")
    );
    say(read("19", 86.0)).await;
    let closed =
        say(json!({ "what": "closed", "run": "edge on the flat", "reason": "not needed" })).await;
    assert_eq!(
        closed.body["pieces"][0]["runs"][0]["closed"],
        "all of it reached"
    );
    assert!(
        closed.body["pieces"][0]["next"]["says"]
            .as_str()
            .unwrap()
            .contains("nothing is left")
    );
    let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    let stages = job["stages"].as_array().unwrap();
    assert_eq!(
        stages
            .iter()
            .find(|s| s["stage"] == "heat_and_seal")
            .unwrap()["state"],
        "done"
    );
    let burnt = say(read("5", 140.0)).await;
    let run = &burnt.body["pieces"][0]["runs"][0];
    assert!(
        run["closed"].is_null()
            && run["passed"]
                .as_str()
                .unwrap()
                .contains("ceiling was passed")
    );
    let record = api
        .get(&format!("/api/jobs/{}/record", api.shop.job))
        .await
        .to_string();
    assert!(
        record.contains("Behind the heat, edge on the flat, 19 along: 140 °F."),
        "{record}"
    );
    assert!(record.contains("Heated: edge on the flat, all of it reached."));
}

#[rocket::async_test]
async fn sealer_comes_after_the_heat_and_locks_it() {
    let api = Api::start().await;
    let print = json!({
        "art": { "is": "panel", "name": "bow print", "width_mm": "6", "height_mm": "4", "bleed_mm": "0", "colour": "#23405c" },
        "place": { "by": "rules", "along": { "rule": "from_front", "distance_mm": "3'", "to": "first_letter" },
            "down": { "rule": "from_datum", "distance_mm": "30", "to": "top" }, "angle": { "rule": "along_datum" } },
        "work": { "film": "hull_print", "crew": 1 }
    });
    let piece = api.piece(print).await;
    api.lies(&piece).await;
    let path = format!("/api/pieces/{piece}/heat");
    let say = |entry: Value| {
        let (api, path) = (&api, path.clone());
        async move {
            api.post(&path, json!({ "id": Uuid::now_v7(), "entry": entry }))
                .await
        }
    };
    let view = api.get(&format!("/api/sides/{}/heat", api.shop.side)).await;
    let seal = view["pieces"][0]["seals"][0].clone();
    // Twenty inches at 3 ml to the metre.
    assert!(
        (seal["ml"].as_f64().unwrap() - 0.508 * 3.0).abs() < 1e-6,
        "{seal}"
    );
    let sealed = json!({ "what": "sealed", "run": seal["name"] });
    let refused = say(sealed.clone()).await;
    assert_eq!(refused.body["code"], "heat_first", "{}", refused.body);
    let run = view["pieces"][0]["runs"][0]["name"].clone();
    say(json!({ "what": "closed", "run": run, "reason": "walked by eye, no thermometer" })).await;
    // Heated and not sealed is not done.
    let stage = || async {
        let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
        let stages = job["stages"].as_array().unwrap();
        let heat = stages.iter().find(|s| s["stage"] == "heat_and_seal");
        heat.unwrap()["state"].clone()
    };
    assert_eq!(stage().await, "later");
    let now = say(sealed).await;
    assert_eq!(stage().await, "done");
    assert_eq!(
        now.body["pieces"][0]["seals"][0]["sealed"], true,
        "{}",
        now.body
    );
    assert!(
        now.body["pieces"][0]["runs"][0]["closed"]
            .as_str()
            .unwrap()
            .contains("without all of it")
    );
    // On paper it says the same, run by run.
    let plan = Uuid::now_v7();
    let issued = api
        .post(
            &format!("/api/jobs/{}/plans", api.shop.job),
            json!({ "id": plan }),
        )
        .await;
    assert_eq!(issued.status, 200, "{}", issued.body);
    let packet = bytes_of(&api, &format!("/api/plans/{plan}/packet.pdf?paper=a4")).await;
    let paper = pdf_text(&packet);
    for words in [
        "what reached its temperature and what is sealed",
        "0 % is known to have reached.",
        "walked by eye, no thermometer",
        "Sealer.",
        "Done.",
    ] {
        assert!(paper.contains(words), "{words}: {paper}");
    }
}

/// What an independent reader finds on paper, its lines joined.
fn pdf_text(pdf: &[u8]) -> String {
    let mut tool = Command::new("pdftotext")
        .args(["-", "-"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut to = tool.stdin.take().unwrap();
    let pdf = pdf.to_vec();
    let writes = std::thread::spawn(move || to.write_all(&pdf).unwrap());
    let out = tool.wait_with_output().unwrap();
    writes.join().unwrap();
    let text = String::from_utf8_lossy(&out.stdout).into_owned();
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[rocket::async_test]
async fn a_pace_waits_for_what_is_behind_the_skin_and_follows_what_was_read_while_walking() {
    let api = Api::start().await;
    let side = api.shop.side;
    let piece = api.panel("badge print", ["24", "12"], "3'").await;
    api.lies(&piece).await;
    let path = format!("/api/sides/{side}/heat");
    let unsaid = api.get(&path).await;
    assert_eq!(unsaid["behind_said"], false);
    assert!(unsaid["pieces"][0]["runs"][0]["pace"].is_null());

    let kept = api.get(&format!("/api/sides/{side}")).await;
    let mut spec = kept["spec"].clone();
    spec["surface"]["skin_mm"] = json!(0.01);
    let revision = kept["revision"].as_i64().unwrap();
    let thin = api
        .put(&format!("/api/sides/{side}"), revision, spec.clone())
        .await;
    assert_eq!(thin.status, 422);
    assert!(
        thin.body["detail"]
            .as_str()
            .unwrap()
            .contains("0.3 to 30 mm")
    );
    spec["surface"]["skin_mm"] = json!(null);
    spec["surface"]["behind"] = json!("air");
    let said = api.put(&format!("/api/sides/{side}"), revision, spec).await;
    assert_eq!(said.status, 200, "{}", said.body);

    let pace = |view: &Value| view["pieces"][0]["runs"][0]["pace"].clone();
    let first = pace(&api.get(&path).await);
    assert_eq!(first["pace"]["sure"], "begin");
    assert!(first["says"].as_str().unwrap().starts_with("Begin at "));
    let speed = first["pace"]["speed"].as_f64().unwrap();
    let read = |along: &str, celsius: f64, pace: Value| {
        let entry = json!({ "what": "read", "run": "edge on the flat", "along_mm": along, "celsius": celsius,
            "pace_mm_s": pace, "over": { "material": "glass", "behind": "foam", "skin_mm": null, "film_mm": 9, "spot": "field", "start_celsius": 90 } });
        let (api, piece) = (&api, piece.clone());
        async move {
            let body = json!({ "id": Uuid::now_v7(), "entry": entry });
            api.post(&format!("/api/pieces/{piece}/heat"), body).await
        }
    };
    // A reading while nobody walks by the ticks says nothing of the gun.
    let still = read("1", 60.0, json!(null)).await;
    assert_eq!(pace(&still.body)["pace"]["counted"], 0);
    let mad = read("1", 60.0, json!(4000)).await;
    assert_eq!(mad.status, 422, "{}", mad.body);
    // Too cold twice: slower, and what it was read over is what the server knows, not what was sent.
    read("3", 60.0, json!(speed)).await;
    let then = pace(&read("5", 61.0, json!(speed)).await.body);
    assert_eq!(then["pace"]["counted"], 2);
    assert!(then["pace"]["speed"].as_f64().unwrap() < speed, "{then}");
    // Going back over warm panel says nothing of it either, nor does the same place again.
    for along in ["4", "5"] {
        let back = read(along, 90.0, json!(speed)).await;
        assert_eq!(pace(&back.body)["pace"]["counted"], 2);
    }
    let on = read("7", 62.0, json!(speed)).await;
    assert_eq!(pace(&on.body)["pace"]["counted"], 3);
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let record = record.to_string();
    assert!(
        record.contains("walked at ") && !record.contains("\"glass\""),
        "{record}"
    );
}

/// What an earlier job laid is the old film of the next one: looked up by whom it was for, in the tape's own figures, once.
#[rocket::async_test]
async fn old_film_is_taken_from_an_earlier_job_of_the_same_vehicle() {
    let api = Api::start().await;
    let (now, side) = another(&api).await;
    let path = |find: &str| format!("/api/jobs/{now}/strip/earlier?find={find}");
    let customer = api.get(&format!("/api/jobs/{}", api.shop.job)).await["customer"].clone();
    let word = customer
        .as_str()
        .unwrap()
        .split(' ')
        .next()
        .unwrap()
        .to_owned();
    let piece = api.panel("the old side", ["24", "12"], "36").await;
    // Nothing lies there yet, so nothing was put on.
    assert_eq!(
        api.get(&path(&word)).await["jobs"]
            .as_array()
            .unwrap()
            .len(),
        0
    );
    api.lies(&piece).await;
    let found = api.get(&path(&word)).await;
    let job = &found["jobs"][0];
    assert_eq!(job["id"], api.shop.job.to_string());
    assert!(job["since"].as_str().unwrap().starts_with("laid "));
    let told = &job["pieces"][0];
    let graphic = &told["graphic"];
    assert_eq!(
        (
            told["taken"].as_bool(),
            graphic["kind"].as_str(),
            graphic["side"].as_str()
        ),
        (Some(false), Some("print"), Some(side.to_string().as_str())),
        "{told}"
    );
    let mm = |field: &str| graphic[field].as_f64().unwrap();
    // 24 by 12 in, 36 in back and 30 down, by hand.
    for (field, inches) in [
        ("width_mm", 24.0),
        ("height_mm", 12.0),
        ("back_mm", 36.0),
        ("drop_mm", 30.0),
    ] {
        assert!(
            (mm(field) - inches * 25.4).abs() < 0.5,
            "{field}: {graphic}"
        );
    }
    assert!(mm("age_years") < 0.1);
    // Taken, it is old film like any other, and is not offered again.
    let mut entry = graphic.clone();
    entry["what"] = "found".into();
    let done = say(&api, now, "strip", entry).await;
    assert_eq!(
        (done.status, done.body["old"].as_array().unwrap().len()),
        (200, 1),
        "{}",
        done.body
    );
    assert_eq!(
        api.get(&path(&word)).await["jobs"][0]["pieces"][0]["taken"],
        true
    );
    // Nor taken twice by somebody who looked before.
    let mut again = graphic.clone();
    again["what"] = "found".into();
    let refused = say(&api, now, "strip", again).await;
    assert_eq!(
        (refused.status, refused.body["code"].as_str()),
        (422, Some("taken")),
        "{}",
        refused.body
    );
    // Words that nothing has, and nothing typed: the job's own customer, who has no other job.
    for find in ["no such customer", ""] {
        let none = api.get(&path(&find.replace(' ', "%20"))).await;
        assert_eq!(none["jobs"].as_array().unwrap().len(), 0, "{none}");
    }
}

/// A side is cleaned at once or zone by zone; a rough repair is made good coat by coat, and each coat hardens as long as its tin says before the next, and
/// before film.
#[rocket::async_test]
async fn zones_are_ticked_one_by_one_and_coats_harden_before_the_next() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    let path = format!("/api/sides/{side}/prep");
    api.piece(lettering("LONG HAVEN", "16", "3'", "30")).await;
    let prep = |entry: Value| say(&api, job, "prep", entry);
    let view = api.get(&path).await;
    let zones = view["zones"].as_array().unwrap().clone();
    let of = zones.len();
    assert!(of >= 2, "{zones:?}");
    // Over all of the film, and 6 in wider.
    let bounds = |z: &Value, n: usize| z["bounds"][n].as_f64().unwrap();
    let piece = api.get(&format!("/api/sides/{side}")).await["pieces"][0]["bounds"].clone();
    let (left, wide) = (piece[0].as_f64().unwrap(), piece[2].as_f64().unwrap());
    let ends = zones.iter().map(|z| bounds(z, 0) + bounds(z, 2));
    let end = ends.fold(0.0, f64::max);
    assert!((end - left - wide - 152.4).abs() < 2.0, "{end} {piece}");
    let step = |view: &Value, key: &str| {
        let steps = view["steps"].as_array().unwrap();
        steps.iter().find(|s| s["key"] == key).unwrap().clone()
    };
    let zone = |n: usize| json!({ "number": n, "of": of });
    let wrong = json!({ "what": "cleaned", "side": side, "step": "wash", "zone": { "number": of + 1, "of": of } });
    let refused = prep(wrong).await;
    assert_eq!(refused.status, 422);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("no such zone")
    );
    for n in 1..=of {
        assert!(step(&api.get(&path).await, "wash")["done"].is_null());
        prep(json!({ "what": "cleaned", "side": side, "step": "wash", "zone": zone(n) })).await;
    }
    assert!(step(&api.get(&path).await, "wash")["done"].is_string());
    prep(json!({ "what": "not_cleaned", "side": side, "step": "wash", "zone": zone(2) })).await;
    let washed = step(&api.get(&path).await, "wash");
    assert!(washed["done"].is_null() && washed["zones"].as_array().unwrap().len() == of - 1);
    prep(json!({ "what": "cleaned", "side": side, "step": "wash" })).await;
    let washed = step(&api.get(&path).await, "wash");
    assert_eq!(washed["zones"].as_array().unwrap().len(), of);
    let record = api
        .get(&format!("/api/jobs/{job}/record"))
        .await
        .to_string();
    assert!(
        record.contains(&format!("washed and rinsed, zone 2 of {of}")),
        "{record}"
    );

    // A rough repair: its steps come in, and what was put on hardens.
    prep(json!({ "what": "repair", "side": side, "needed": true })).await;
    let view = api.get(&path).await;
    assert!(view["next"]["says"].as_str().unwrap().contains("Sand back"));
    for key in ["sand", "fill"] {
        prep(json!({ "what": "cleaned", "side": side, "step": key })).await;
    }
    let view = api.get(&path).await;
    assert!(step(&view, "fill")["hardens"].is_string());
    assert!(
        view["next"]["says"]
            .as_str()
            .unwrap()
            .contains("hardens until"),
        "{}",
        view["next"]
    );
    let lines = view["gate"]["lines"].to_string();
    assert!(lines.contains("Not hard yet: fill, until"), "{lines}");
    let wrong = prep(json!({ "what": "cures", "side": side, "step": "fill", "hours": -1 })).await;
    assert_eq!(wrong.status, 422);
    // Its tin says six minutes: ticked ten minutes ago it is hard.
    prep(json!({ "what": "cures", "side": side, "step": "fill", "hours": 0.1 })).await;
    let ago = (OffsetDateTime::now_utc() - Duration::minutes(10))
        .format(&Rfc3339)
        .unwrap();
    let body = json!({ "id": Uuid::now_v7(), "entry": { "what": "cleaned", "side": side, "step": "fill" } });
    let headers = [("Read-At", ago)];
    let done = api
        .call("POST", &format!("/api/jobs/{job}/prep"), body, &headers)
        .await;
    assert_eq!(done.status, 200, "{}", done.body);
    let view = api.get(&path).await;
    assert!(step(&view, "fill")["hardens"].is_null(), "{view}");
    assert!(
        view["next"]["says"].as_str().unwrap().contains("Prime"),
        "{}",
        view["next"]
    );
    // No solvent on gloss that is not hard.
    for key in ["prime", "gloss"] {
        prep(json!({ "what": "cleaned", "side": side, "step": key })).await;
    }
    let view = api.get(&path).await;
    assert!(
        view["next"]["says"]
            .as_str()
            .unwrap()
            .contains("hardens until"),
        "{}",
        view["next"]
    );
    // Wiped zone by zone too long ago, each zone is wiped again by itself.
    let long_ago = (OffsetDateTime::now_utc() - Duration::hours(3))
        .format(&Rfc3339)
        .unwrap();
    let body = json!({ "id": Uuid::now_v7(), "entry": { "what": "cleaned", "side": side, "step": "alcohol" } });
    let headers = [("Read-At", long_ago)];
    api.call("POST", &format!("/api/jobs/{job}/prep"), body, &headers)
        .await;
    let wiped = step(&api.get(&path).await, "alcohol");
    assert!(wiped["again"].is_string() && wiped["zones"] == json!([]));
    prep(json!({ "what": "cleaned", "side": side, "step": "alcohol", "zone": zone(1) })).await;
    let wiped = step(&api.get(&path).await, "alcohol");
    assert!(wiped["again"].is_string() && wiped["zones"] == json!([1]));
    prep(json!({ "what": "cleaned", "side": side, "step": "alcohol", "zone": zone(2) })).await;
    assert!(of != 2 || step(&api.get(&path).await, "alcohol")["again"].is_null());
}

/// A sensor that drifts goes on sending figures that look right: a reading by hand tells, and the next one, once it was set right, makes it count again. Of two
/// that differ and that nobody read beside neither counts. A door that was open is learnt from, and the air foretold from it.
#[rocket::async_test]
async fn a_sensor_that_drifts_is_not_believed_and_a_door_is_learnt_from() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    let now = OffsetDateTime::now_utc();
    let make = async |bay: &str, name: &str| {
        let id = Uuid::now_v7();
        let body = json!({ "id": id, "bay": bay, "name": name });
        api.post("/api/devices", body).await.body["key"]
            .as_str()
            .unwrap()
            .to_owned()
    };
    let send = async |key: &str, celsius: &dyn Fn(i64) -> f64| {
        // One a minute, the last three hours.
        let readings: Vec<Value> = (0..180)
            .map(|m| json!({ "at": (now - Duration::minutes(179 - m)).format(&Rfc3339).unwrap(), "celsius": celsius(m), "humidity": 45 }))
            .collect();
        let headers = [("Device-Key", key.to_owned())];
        let sent = api
            .call(
                "POST",
                "/api/readings",
                json!({ "readings": readings }),
                &headers,
            )
            .await;
        assert_eq!(sent.status, 200, "{}", sent.body);
    };
    let bay = format!("/api/jobs/{job}/bay");
    let doubt = async |n: usize| api.get(&bay).await["sensors"][n]["doubt"].clone();
    say(
        &api,
        job,
        "bay",
        json!({ "what": "stands_in", "bay": "North" }),
    )
    .await;
    let north = make("North", "north wall").await;
    send(&north, &|m| 20.0 + m as f64 / 45.0).await;
    assert!(doubt(0).await.is_null());
    // By hand 20 °C, where it says 24.
    say(
        &api,
        job,
        "bay",
        json!({ "what": "air", "celsius": 20, "humidity": 45 }),
    )
    .await;
    let told = doubt(0).await;
    assert!(
        told.as_str()
            .unwrap()
            .contains("It reads 7.2 °F more than was read by hand"),
        "{told}"
    );
    assert!(
        api.get(&bay).await["air"]["says"]
            .as_str()
            .unwrap()
            .starts_with("68 °F")
    );
    say(
        &api,
        job,
        "bay",
        json!({ "what": "air", "celsius": 24, "humidity": 45 }),
    )
    .await;
    assert!(doubt(0).await.is_null());

    // Two that differ, and nobody read the air.
    say(
        &api,
        job,
        "bay",
        json!({ "what": "stands_in", "bay": "South" }),
    )
    .await;
    let (one, two) = (
        make("South", "by the door").await,
        make("South", "by the bench").await,
    );
    send(&one, &|_| 20.0).await;
    send(&two, &|_| 25.0).await;
    assert!(
        doubt(0)
            .await
            .as_str()
            .unwrap()
            .contains("than by the bench does")
    );
    assert!(
        doubt(1)
            .await
            .as_str()
            .unwrap()
            .contains("than by the door does")
    );

    // A door that was open two hours ago and one just now.
    say(
        &api,
        job,
        "bay",
        json!({ "what": "stands_in", "bay": "East" }),
    )
    .await;
    let east = make("East", "east wall").await;
    let open = |since: i64| {
        if since < 0 {
            0.0
        } else {
            8.0 * (-(since as f64) / 12.0).exp()
        }
    };
    send(&east, &|m| 21.0 - open(m - 40) - open(m - 172)).await;
    say(
        &api,
        job,
        "prep",
        json!({ "what": "panel", "side": side, "spot": "low", "by": "probe", "celsius": 9 }),
    )
    .await;
    let view = api.get(&format!("/api/sides/{side}/prep")).await;
    let says = view["warm"]["says"].as_str().unwrap();
    assert!(
        says.contains("nearly back at 70 °F in about")
            && says.contains("as it did here 2 times before"),
        "{says}"
    );
}

/// A patch that somebody began to time is seen on any device, until it is kept or given up.
#[rocket::async_test]
async fn a_patch_that_runs_is_seen_on_any_device() {
    let api = Api::start().await;
    let found = strip(&api, graphic(api.shop.side, 8)).await;
    let old = found["old"][0]["id"].clone();
    assert!(found["old"][0]["running"].is_null());
    let began = json!({ "what": "patch_began", "old": old, "stands_for": "easy", "amount": 2 });
    let view = strip(&api, began.clone()).await;
    let running = &view["old"][0]["running"];
    assert_eq!(
        (&running["stands_for"], &running["amount"]),
        (&json!("easy"), &json!(2.0))
    );
    assert!(running["since"].is_string() && running["by"].is_string());
    let dropped = strip(&api, json!({ "what": "patch_dropped", "old": old })).await;
    assert!(dropped["old"][0]["running"].is_null());
    strip(&api, began).await;
    let patch = json!({ "what": "patch", "old": old, "stands_for": "easy", "amount": 2, "film_seconds": 80, "left": "none" });
    let kept = strip(&api, patch).await;
    assert!(kept["old"][0]["running"].is_null());
    assert_eq!(kept["old"][0]["patches"].as_array().unwrap().len(), 1);
    for (wrong, status) in [
        (
            json!({ "what": "patch_began", "old": old, "stands_for": "easy", "amount": 0 }),
            422,
        ),
        (
            json!({ "what": "patch_began", "old": Uuid::now_v7(), "stands_for": "easy", "amount": 2 }),
            404,
        ),
    ] {
        assert_eq!(say(&api, api.shop.job, "strip", wrong).await.status, status);
    }
}
