//! Reflective marking by API on a real PostgreSQL: whether it is required, the plan, the audit of it and of what was read back.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, missing_docs)]

mod common;

use common::Api;
use serde_json::{Value, json};

fn ask() -> Value {
    json!({
        "set": "united_states_new",
        "vehicle": { "kind": "trailer", "width_mm": "102", "mass_kg": 30000.0, "built": "2015-03-01" },
        "ground_mm": "132",
        "stock": { "grade": "C2", "width_mm": "2", "pattern": [
            { "colour": "red", "length_mm": "12" }, { "colour": "white", "length_mm": "12" } ] },
        "way": "spaced",
    })
}

#[rocket::async_test]
async fn a_side_is_marked_and_audited_and_what_is_changed_by_hand_too() {
    let api = Api::start().await;
    let path = format!("/api/sides/{}/marking", api.shop.side);
    let found = api.post(&path, ask()).await;
    assert_eq!(found.status, 200, "{}", found.body);
    let view = &found.body;
    assert_eq!(view["applies"]["required"], "yes");
    assert_eq!(view["plan"]["proven"], true);
    assert!(
        view["from_memory"]
            .as_str()
            .unwrap()
            .contains("From memory")
    );
    let strips = view["strips"].as_array().unwrap();
    assert!(strips.len() > 2);
    assert_eq!(strips[0]["start"]["text"], "0");
    let audit = view["audit"].as_array().unwrap();
    assert!(
        audit.iter().all(|f| f["audited"] == "pass"),
        "{}",
        view["audit"]
    );
    // One strip fewer is less than half; the audit says so.
    let mut own: Vec<Value> = strips.iter().map(|s| s["strip"].clone()).collect();
    own.remove(1);
    own[0]["start_mm"] = json!("3 1/2");
    let mut changed = ask();
    changed["strips"] = json!(own);
    let answer = api.post(&path, changed).await;
    let told: Vec<String> = answer.body["audit"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|f| f["audited"] != "pass")
        .map(|f| format!("{} {}", f["audited"], f["asks"]))
        .collect();
    assert!(
        told.iter()
            .any(|t| t.contains("fail") && t.contains("50 %")),
        "{told:?}"
    );
    assert!(
        told.iter()
            .any(|t| t.contains("reason_needed") && t.contains("front and rear")),
        "{told:?}"
    );
    assert_eq!(answer.body["strips"][0]["start"]["text"], "3 1/2");
}

#[rocket::async_test]
async fn what_is_not_known_or_cannot_be_is_said() {
    let api = Api::start().await;
    let path = format!("/api/sides/{}/marking", api.shop.side);
    let with = |key: &str, value: Value| {
        let mut body = ask();
        body[key] = value;
        body
    };
    let unknown = api
        .post(&path, with("vehicle", json!({ "kind": "trailer" })))
        .await;
    assert_eq!(unknown.body["applies"]["required"], "cannot_tell");
    let truck = api
        .post(&path, with("vehicle", json!({ "kind": "truck" })))
        .await;
    assert_eq!(truck.body["applies"]["required"], "no");
    assert!(
        truck.body["voluntary"][0]
            .as_str()
            .unwrap()
            .contains("No red towards the front")
    );
    for (body, says) in [
        (with("ground_mm", json!("0")), "Measure from the rail"),
        (with("ground_mm", json!("a yard")), "a yard"),
        (
            with(
                "strips",
                json!([{ "start_mm": 0, "centre_mm": -5, "width_mm": 50, "runs": [{ "colour": "red", "length_mm": 300 }] }]),
            ),
            "below the ground",
        ),
        (
            with(
                "strips",
                json!([{ "start_mm": 0, "centre_mm": 900, "width_mm": 50, "runs": [{ "colour": "red", "length_mm": 0 }] }]),
            ),
            "Read it again",
        ),
    ] {
        let answer = api.post(&path, body).await;
        let detail = answer.body["detail"].as_str().unwrap_or_default();
        assert!(
            answer.status == 422 && detail.contains(says),
            "{says}: {} {}",
            answer.status,
            answer.body
        );
    }
    let narrow = json!({ "grade": "C4", "width_mm": "2", "pattern": [{ "colour": "red", "length_mm": "12" }] });
    let refused = api.post(&path, with("stock", narrow)).await;
    assert!(
        refused.body["refused"]
            .as_str()
            .unwrap()
            .contains("at least 100 mm wide"),
        "{}",
        refused.body
    );
    let rules = api.get("/api/rules").await;
    assert_eq!(rules.as_array().unwrap().len(), 3);
    assert!(
        rules[2]["figures"]
            .as_array()
            .unwrap()
            .iter()
            .any(|f| f["confidence"] == "lead")
    );
}
