//! Reflective marking by API on a real PostgreSQL: what is settled is kept, laid out, audited, read back, recorded, printed; the shop's
//! tapes and corrections.

use crate::common::{Answer, Api};
use serde_json::{Value, json};
use uuid::Uuid;

fn stock() -> Value {
    json!({ "grade": "C2", "width_mm": "2", "pattern": [
        { "colour": "red", "length_mm": "12" }, { "colour": "white", "length_mm": "12" } ] })
}

fn vehicle() -> Value {
    json!({ "set": "united_states_new", "vehicle": { "kind": "trailer", "width_mm": "102", "mass_kg": 30000.0, "built": "2015-03-01" } })
}

fn face() -> Value {
    json!({ "ground_mm": "132", "stock": stock(), "way": "spaced" })
}

struct Marked {
    api: Api,
    path: String,
    vehicle: String,
}

impl Marked {
    /// A shop with nothing settled about marking.
    async fn start() -> Marked {
        let api = Api::start().await;
        Marked {
            path: format!("/api/sides/{}/marking", api.shop.side),
            vehicle: format!("/api/jobs/{}/marked-vehicle", api.shop.job),
            api,
        }
    }

    /// The same with vehicle and side settled.
    async fn settled() -> Marked {
        let marked = Marked::start().await;
        let done = marked.api.put(&marked.vehicle, 0, vehicle()).await;
        assert_eq!(done.status, 200, "{}", done.body);
        let done = marked.keep(0, face()).await;
        assert_eq!(done.status, 200, "{}", done.body);
        marked
    }

    async fn keep(&self, revision: i64, spec: Value) -> Answer {
        self.api.put(&self.path, revision, spec).await
    }

    async fn view(&self) -> Value {
        self.api.get(&self.path).await
    }

    /// What is kept now, changed.
    async fn with(&self, change: impl FnOnce(&mut Value)) -> Value {
        let mut spec = self.view().await["marking"].clone();
        change(&mut spec);
        spec
    }
}

fn said(found: &Value, audited: &str) -> Vec<String> {
    found["audit"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|f| f["audited"] == audited)
        .map(|f| f["key"].as_str().unwrap().to_owned())
        .collect()
}

#[rocket::async_test]
async fn what_is_settled_is_kept_laid_out_and_audited() {
    let marked = Marked::start().await;
    let empty = marked.view().await;
    assert!(empty["found"].is_null() && empty["marking"].is_null() && empty["revision"] == 0);
    // A face without a vehicle is kept, and nothing is made up for it.
    assert_eq!(marked.keep(0, face()).await.status, 200);
    assert!(marked.view().await["found"].is_null());
    assert_eq!(
        marked.api.put(&marked.vehicle, 0, vehicle()).await.status,
        200
    );
    let view = marked.view().await;
    let found = &view["found"];
    assert_eq!(found["applies"]["required"], "yes");
    assert_eq!(found["proven"], true);
    assert_eq!(view["printed"]["/ground_mm"], "11' 0");
    let strips = found["strips"].as_array().unwrap();
    assert!(strips.len() > 2);
    assert_eq!(strips[0]["start"]["text"], "0");
    assert!(
        said(found, "fail").is_empty() && said(found, "reason_needed").is_empty(),
        "{found}"
    );
    let used: f64 = found["cuts"][0]["used"]["mm"].as_f64().unwrap();
    assert!((used - found["film"]["mm"].as_f64().unwrap()).abs() < 0.01);
    assert!(
        view["from_memory"]
            .as_str()
            .unwrap()
            .contains("From memory")
    );

    // By hand: with what is laid to spare one strip fewer is still half, two are less; the reason that a clause asks for is kept with it.
    let mut own: Vec<Value> = strips.iter().map(|s| s["strip"].clone()).collect();
    own.drain(1..3);
    own[0]["start_mm"] = json!("3 1/2");
    let spec = marked.with(|m| m["own"] = json!(own)).await;
    assert_eq!(marked.keep(1, spec).await.status, 200);
    let found = marked.view().await["found"].clone();
    assert_eq!(found["audits"], "own");
    assert_eq!(found["strips"][0]["start"]["text"], "3 1/2");
    assert!(said(&found, "fail").contains(&"line.side_share".to_owned()));
    assert!(said(&found, "reason_needed").contains(&"line.ends".to_owned()));
    let spec = marked
        .with(|m| m["reasons"] = json!({ "line.ends": "The tarpaulin's hooks stand there." }))
        .await;
    assert_eq!(marked.keep(2, spec).await.status, 200);
    assert!(said(&marked.view().await["found"], "reasoned").contains(&"line.ends".to_owned()));

    // Undone in the order in which it was done.
    for _ in 0..2 {
        let undone = marked
            .api
            .post(
                &format!("/api/jobs/{}/undo", marked.api.shop.job),
                json!({}),
            )
            .await;
        assert_eq!(undone.status, 200, "{}", undone.body);
    }
    assert_eq!(marked.view().await["found"]["audits"], "best");
}

#[rocket::async_test]
async fn two_people_at_once_meet_and_nothing_is_overwritten() {
    let marked = Marked::settled().await;
    // Both began with nothing there.
    let late = marked.keep(0, face()).await;
    assert_eq!(
        (late.status, late.body["code"].as_str()),
        (409, Some("stale"))
    );
    let there = |v: &Value| (v["ground_mm"].as_f64().unwrap() - 3352.8).abs() < 1e-6;
    assert!(there(&late.body["current"]));
    let late = marked.api.put(&marked.vehicle, 0, vehicle()).await;
    assert_eq!(late.status, 409);
    // Tried is not kept.
    let mut tried = marked.with(|_| {}).await;
    tried["own"] = json!([]);
    let answer = marked
        .api
        .post(&marked.path, json!({ "marking": tried }))
        .await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    assert!(answer.body["strips"].as_array().unwrap().is_empty());
    let view = marked.view().await;
    assert_eq!(view["revision"], 1);
    // A side with nothing but its marking is removed with it, and one undo brings both back.
    let job = format!("/api/jobs/{}", marked.api.shop.job);
    let id = Uuid::now_v7();
    let rear = json!({ "id": id, "start": { "from": "shape", "shape": "rear_doors" } });
    let added = marked.api.post(&format!("{job}/sides"), rear).await;
    assert_eq!(added.status, 200, "{}", added.body);
    let path = format!("/api/sides/{id}/marking");
    assert_eq!(marked.api.put(&path, 0, face()).await.status, 200);
    let match_it = [("If-Match", "\"1\"".to_owned())];
    let gone = marked
        .api
        .call(
            "DELETE",
            &format!("/api/sides/{id}"),
            Value::Null,
            &match_it,
        )
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    let back = marked.api.post(&format!("{job}/undo"), json!({})).await;
    assert_eq!(back.status, 200, "{}", back.body);
    assert!(there(&marked.api.get(&path).await["marking"]));
}

#[rocket::async_test]
async fn a_job_of_marking_strip_alone_has_its_dates_from_its_audit() {
    let marked = Marked::settled().await;
    let care = format!("/api/jobs/{}/care", marked.api.shop.job);
    let told = |v: &Value| (v["of"].as_u64(), v["lies"].as_u64());
    let before = marked.api.get(&care).await;
    assert_eq!(told(&before), (Some(1), Some(0)));
    assert!(before["but"].as_str().unwrap().contains("as read back"));
    let record = format!("{}/record", marked.path);
    // An audit as laid out is no strip on a vehicle.
    let own = json!({ "id": Uuid::now_v7(), "read_back": false });
    assert_eq!(marked.api.post(&record, own).await.status, 200);
    assert_eq!(told(&marked.api.get(&care).await), (Some(1), Some(0)));
    let mut read: Vec<Value> = marked.view().await["found"]["to_read"]
        .as_array()
        .unwrap()
        .clone();
    for strip in &mut read {
        strip["unread"] = json!({});
    }
    let spec = marked.with(|m| m["read_back"] = json!(read)).await;
    assert_eq!(marked.keep(1, spec).await.status, 200);
    let audit = json!({ "id": Uuid::now_v7(), "read_back": true });
    let kept = marked.api.post(&record, audit).await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let after = marked.api.get(&care).await;
    assert_eq!(told(&after), (Some(1), Some(1)));
    let dates = after["dates"].as_array().unwrap();
    assert!(dates.iter().any(|d| d["what"] == "wash"), "{after}");
    let of_strip = dates
        .iter()
        .any(|d| d["why"].as_str().unwrap().contains("marking strip, "));
    assert!(of_strip, "{after}");
    // On the next job of that customer they are the old film, each where it was read, by the tape.
    let found = marked.view().await["found"]["strips"].clone();
    let job = marked
        .api
        .get(&format!("/api/jobs/{}", marked.api.shop.job))
        .await;
    let next = Uuid::now_v7();
    let body = json!({ "id": next, "customer": job["customer"], "title": "again", "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
    assert_eq!(marked.api.post("/api/jobs", body).await.status, 200);
    let earlier = format!("/api/jobs/{next}/strip/earlier?find=");
    let words = job["customer"].as_str().unwrap().replace(' ', "%20");
    let told = marked.api.get(&format!("{earlier}{words}")).await;
    let pieces = told["jobs"][0]["pieces"]
        .as_array()
        .unwrap_or_else(|| panic!("{told}"));
    assert_eq!(pieces.len(), found.as_array().unwrap().len());
    for (piece, strip) in pieces.iter().zip(found.as_array().unwrap()) {
        let old = &piece["graphic"];
        assert_eq!(
            (old["kind"].as_str(), piece["taken"].as_bool()),
            (Some("prismatic_strip"), Some(false))
        );
        for (mine, theirs) in [
            ("back_mm", "start"),
            ("drop_mm", "down"),
            ("width_mm", "length"),
        ] {
            let (mine, theirs) = (
                old[mine].as_f64().unwrap(),
                strip[theirs]["mm"].as_f64().unwrap(),
            );
            assert!((mine - theirs).abs() < 1.0, "{old} {strip}");
        }
    }
    assert!(
        told["jobs"][0]["since"]
            .as_str()
            .unwrap()
            .starts_with("laid ")
    );
}

#[rocket::async_test]
async fn what_is_read_back_is_audited_recorded_and_printed() {
    let marked = Marked::settled().await;
    let record = format!("{}/record", marked.path);
    let id = Uuid::now_v7();
    let early = marked
        .api
        .post(&record, json!({ "id": id, "read_back": true }))
        .await;
    assert!(early.status == 422 && early.body["detail"].as_str().unwrap().contains("read back"));
    let view = marked.view().await;
    // It begins with the plan, nothing of it read: no strip of this vehicle yet, and nothing is kept.
    let mut read: Vec<Value> = view["found"]["to_read"].as_array().unwrap().clone();
    let spec = marked.with(|m| m["read_back"] = json!(read)).await;
    assert_eq!(marked.keep(1, spec).await.status, 200);
    let path = format!("{}?read_back=true", marked.path);
    let found = marked.api.get(&path).await["found"].clone();
    assert_eq!(found["strips"], json!([]));
    assert!(
        found["read"]
            .as_array()
            .unwrap()
            .iter()
            .all(|r| r["unread"] == true)
    );
    assert!(said(&found, "pass").is_empty(), "{found}");
    let unread = json!({ "id": Uuid::now_v7(), "read_back": true });
    let refused = marked.api.post(&record, unread).await;
    assert!(
        refused.status == 422
            && refused.body["detail"]
                .as_str()
                .unwrap()
                .contains("are not read yet"),
        "{}",
        refused.body
    );
    // Then strip by strip; one was laid too high, one two inches back, one is missing.
    for strip in &mut read {
        strip["unread"] = json!({});
    }
    read[1]["down_mm"] = json!("68");
    read[2]["from_mm"] = json!(read[2]["from_mm"].as_f64().unwrap() + 50.8);
    read[2]["to_mm"] = json!(read[2]["to_mm"].as_f64().unwrap() + 50.8);
    read[3]["missing"] = json!(true);
    let spec = marked.with(|m| m["read_back"] = json!(read)).await;
    assert_eq!(marked.keep(2, spec).await.status, 200);
    let found = marked.api.get(&path).await["found"].clone();
    assert_eq!(found["audits"], "read_back");
    assert_eq!(found["strips"].as_array().unwrap().len(), read.len() - 1);
    let off = |n: usize| found["read"][n]["off"].clone();
    assert_eq!(off(0), json!([]));
    assert!(
        off(1)[0].as_str().unwrap().contains("too high"),
        "{}",
        off(1)
    );
    assert_eq!(
        off(2),
        json!([
            "It begins 2 too near the rear.",
            "It ends 2 too near the rear."
        ])
    );
    assert_eq!(off(3), json!(["It is not there."]));
    assert_eq!(said(&found, "fail"), ["line.height"]);
    // The last one is missing: neither the rear end nor evenness is as it could be.
    assert_eq!(
        said(&found, "reason_needed"),
        ["line.ends", "line.level", "line.even"]
    );
    for (kind, begins) in [("svg", "<svg"), ("dxf", "999")] {
        let drawing = marked
            .api
            .get(
                &marked
                    .path
                    .replace("/marking", &format!("/strips.{kind}?read_back=true")),
            )
            .await;
        let drawing = drawing.as_str().unwrap();
        assert!(
            drawing.starts_with(begins) && drawing.len() > 500,
            "{drawing}"
        );
    }
    for _ in 0..2 {
        // Sent twice, recorded once.
        let kept = marked
            .api
            .post(&record, json!({ "id": id, "read_back": true }))
            .await;
        assert_eq!(
            (kept.status, kept.body["seq"].as_i64()),
            (200, Some(1)),
            "{}",
            kept.body
        );
    }
    let page = marked
        .api
        .get(&format!("/api/jobs/{}/record", marked.api.shop.job))
        .await;
    let what = page["entries"][0]["what"].as_str().unwrap();
    assert!(
        what.contains("as read back")
            && what.contains("3 waiting for a reason")
            && what.contains("no approval"),
        "{what}"
    );
    let report = marked
        .api
        .pdf(&format!("{}.pdf?read_back=true&paper=a4", marked.path))
        .await;
    // What was recorded, as it was read back, and that the figures are from memory.
    for words in ["from memory", "read back", "reason"] {
        assert!(report.to_lowercase().contains(words), "{words}: {report}");
    }
}

#[rocket::async_test]
async fn what_is_not_known_or_cannot_be_is_said() {
    let marked = Marked::settled().await;
    let settle = async |revision: i64, v: Value| {
        let body = json!({ "set": "united_states_new", "vehicle": v });
        assert_eq!(
            marked.api.put(&marked.vehicle, revision, body).await.status,
            200
        );
        marked.view().await["found"].clone()
    };
    let unknown = settle(1, json!({ "kind": "trailer" })).await;
    assert_eq!(unknown["applies"]["required"], "cannot_tell");
    let truck = settle(2, json!({ "kind": "truck" })).await;
    assert_eq!(
        (truck["applies"]["required"].as_str(), truck["by"].as_str()),
        (Some("no"), Some("voluntary"))
    );
    assert!(
        truck["voluntary"][0]
            .as_str()
            .unwrap()
            .contains("No red towards the front")
    );
    let odd = marked
        .api
        .put(
            &marked.vehicle,
            3,
            json!({ "set": "unece", "vehicle": { "kind": "trailer", "category": "O9" } }),
        )
        .await;
    assert_eq!(odd.status, 422, "{}", odd.body);
    let odd = marked
        .api
        .put(
            &marked.vehicle,
            3,
            json!({ "set": "unece", "vehicle": { "kind": "trailer", "width_mm": "40'" } }),
        )
        .await;
    assert!(
        odd.body["detail"]
            .as_str()
            .unwrap()
            .contains("overall width"),
        "{}",
        odd.body
    );
    let strip = |centre: f64, long: f64| json!([{ "start_mm": 0, "centre_mm": centre, "width_mm": 50, "runs": [{ "colour": "red", "length_mm": long }] }]);
    for (key, value, says) in [
        ("ground_mm", json!("0"), "Measure from the rail"),
        ("ground_mm", json!("a yard"), "a yard"),
        ("own", strip(-5.0, 300.0), "below the ground"),
        ("own", strip(900.0, 0.0), "Read it again"),
        ("gap_limit_mm", json!(1.0), "largest gap"),
        (
            "stock",
            json!({ "grade": "C2", "width_mm": "2", "pattern": [] }),
            "at least 10 mm",
        ),
        (
            "underride",
            json!({ "from_mm": "40", "to_mm": "30", "foot_mm": "20", "top_mm": "24" }),
            "end after it begins",
        ),
        (
            "read_back",
            json!([{ "from_mm": "40", "to_mm": "30", "at_mm": "40", "width_mm": "2", "begins": "red" }]),
            "end after it begins",
        ),
    ] {
        let spec = marked.with(|m| m[key] = value).await;
        let answer = marked.keep(1, spec).await;
        let detail = answer.body["detail"].as_str().unwrap_or_default();
        assert!(
            answer.status == 422 && detail.contains(says),
            "{says}: {} {}",
            answer.status,
            answer.body
        );
    }
    assert_eq!(
        marked.view().await["revision"],
        1,
        "nothing of it was kept, nothing was lost"
    );
    // A tape that the rule does not allow is kept as typed, and the part says why there is no layout.
    settle(3, vehicle()["vehicle"].clone()).await;
    let spec = marked.with(|m| m["stock"]["grade"] = json!("C4")).await;
    assert_eq!(marked.keep(1, spec).await.status, 200);
    let refused = marked.view().await["found"]["elements"][0]["refused"].clone();
    assert!(refused.as_str().unwrap().contains("at least 100 mm wide"));
}

#[rocket::async_test]
async fn the_lead_corrects_a_figure_and_every_answer_names_it() {
    let mut marked = Marked::settled().await;
    let path = "/api/rules/united_states_new/side_share";
    let correct = |seen: Value, value: Value| json!({ "seen": seen, "value": value });
    let send = async |m: &Marked, body: Value| m.api.call("PUT", path, body, &[]).await;
    let lead = marked.api.who;
    marked.api.who = marked.api.shop.crew[1];
    assert_eq!(
        send(&marked, correct(Value::Null, json!(0.8))).await.status,
        403
    );
    marked.api.who = lead;
    let wrong = send(&marked, correct(Value::Null, json!(80.0))).await;
    assert!(wrong.status == 422 && wrong.body["detail"].as_str().unwrap().contains("0.7"));
    let done = send(&marked, correct(Value::Null, json!(0.8))).await;
    assert_eq!(done.status, 200, "{}", done.body);
    // Somebody who saw it uncorrected meets the correction.
    assert_eq!(
        send(&marked, correct(Value::Null, json!(0.9))).await.status,
        409
    );
    let found = marked.view().await["found"].clone();
    assert_eq!(found["corrected"][0]["recalled"], 0.5);
    assert_eq!(found["corrected"][0]["used"], 0.8);
    assert!(
        found["share"].as_f64().unwrap() >= 80.0,
        "{}",
        found["share"]
    );
    assert_eq!(
        send(&marked, correct(json!(0.8), Value::Null)).await.status,
        200
    );
    assert!(
        marked.view().await["found"]["corrected"]
            .as_array()
            .unwrap()
            .is_empty()
    );
    let rules = marked.api.get("/api/rules").await;
    assert_eq!(rules["sets"].as_array().unwrap().len(), 4);
    assert_eq!(rules["photometric"].as_array().unwrap().len(), 9);
    let none = marked
        .api
        .call(
            "PUT",
            "/api/rules/unece/no_such",
            correct(Value::Null, json!(1)),
            &[],
        )
        .await;
    assert_eq!(none.status, 404);
}

#[rocket::async_test]
async fn tape_goes_on_the_shelf_and_off_it() {
    let marked = Marked::start().await;
    let id = Uuid::now_v7();
    let tape = json!({ "id": id, "name": " Roll by the door ", "stock": stock() });
    for _ in 0..2 {
        let shelf = marked.api.post("/api/tapes", tape.clone()).await;
        assert_eq!(shelf.body.as_array().unwrap().len(), 1, "{}", shelf.body);
        assert_eq!(shelf.body[0]["name"], "Roll by the door");
    }
    let mut bad = tape;
    bad["id"] = json!(Uuid::now_v7());
    bad["stock"]["width_mm"] = json!("0");
    let refused = marked.api.post("/api/tapes", bad).await;
    assert!(refused.status == 422 && refused.body["detail"].as_str().unwrap().contains("wide"));
    let path = format!("/api/tapes/{id}");
    let off = marked.api.call("DELETE", &path, Value::Null, &[]).await;
    assert!(off.body.as_array().unwrap().is_empty());
    let other = format!("/api/tapes/{}", Uuid::now_v7());
    assert_eq!(
        marked
            .api
            .call("DELETE", &other, Value::Null, &[])
            .await
            .status,
        404
    );
}

/// Marking alone is handed over: a plan freezes its audit, and the packet prints it.
#[rocket::async_test]
async fn marking_alone_is_handed_over() {
    let Marked { api, .. } = Marked::settled().await;
    let plans = format!("/api/jobs/{}/plans", api.shop.job);
    let plan = api.post(&plans, json!({ "id": Uuid::now_v7() })).await;
    assert_eq!(plan.status, 200, "{}", plan.body);
    let id = plan.body["id"].as_str().unwrap();
    let path = format!("/api/plans/{id}/packet.pdf?paper=letter");
    let packet = api.pdf(&path).await;
    for words in [
        "Reflective marking",
        "It is no approval",
        "KEPT",
        "Checked by",
    ] {
        assert!(packet.contains(words), "{words}: {packet}");
    }
    let refused = api
        .call("GET", &format!("{path}&sides=elsewhere"), Value::Null, &[])
        .await;
    assert_eq!(refused.status, 422);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("issue the plan again")
    );
}

#[rocket::async_test]
async fn what_differs_between_both_sides_is_told() {
    let marked = Marked::settled().await;
    let api = &marked.api;
    let beside = format!("{}/other-sides", marked.path);
    assert_eq!(api.get(&beside).await, json!([]));
    let id = api.other_side().await;
    let path = format!("/api/sides/{id}/marking");
    assert_eq!(api.put(&path, 0, face()).await.status, 200);
    let told = api.get(&beside).await;
    assert_eq!(
        (told[0]["name"].as_str(), &told[0]["differs"]),
        (Some("curb side"), &json!([])),
        "{told}"
    );
    // A latch on the other side, where a strip lies.
    let found = api.get(&path).await["found"].clone();
    let strip = &found["strips"][1];
    let (from, down) = (
        strip["start"]["mm"].as_f64().unwrap(),
        strip["down"]["mm"].as_f64().unwrap(),
    );
    let latch = json!({ "kind": "latch", "form": { "form": "rectangle", "back_mm": from + 30.0, "drop_mm": down - 40.0, "to": "corner",
        "width_mm": 60.0, "height_mm": 130.0, "repeat": { "count": 1, "pitch_mm": 0.0, "rows": 1, "row_pitch_mm": 0.0 } } });
    let added = api
        .post(
            &format!("/api/sides/{id}/features"),
            json!({ "id": Uuid::now_v7(), "spec": latch }),
        )
        .await;
    assert_eq!(added.status, 200, "{}", added.body);
    let told = api.get(&beside).await;
    let says: Vec<&str> = (told[0]["differs"].as_array().unwrap().iter())
        .filter_map(Value::as_str)
        .collect();
    assert!(
        says.iter().any(|s| s.contains("than on the curb side"))
            && says
                .iter()
                .any(|s| s.starts_with("Only on the curb side: latch at")),
        "{says:?}"
    );
}

/// Strips are cut from a roll of marking tape as wide: once however often it is asked for, not from one that is too short or was taken from since,
/// anew where they are laid out otherwise; their lot stands on paper, in the record, and beside another lot of the same vehicle.
#[rocket::async_test]
async fn strips_are_cut_from_a_roll_and_know_their_lot() {
    let marked = Marked::settled().await;
    let api = &marked.api;
    let path = format!("{}/tape", marked.path);
    let order = format!("/api/jobs/{}/to-order", api.shop.job);
    let nothing = api.get(&path).await;
    let list = &nothing["lists"][0];
    assert!(list["short"].as_str().unwrap().contains("2 wide"), "{list}");
    let needed = list["long"]["mm"].as_f64().unwrap();
    // What is on the vehicle, and what is passed over between cuts.
    let found = marked.view().await["found"]["cuts"][0].clone();
    let sum = found["used"]["mm"].as_f64().unwrap() + found["waste"]["mm"].as_f64().unwrap();
    assert!((needed - sum).abs() < 1.0, "{needed} {sum}");
    let to_order = api.get(&order).await;
    let tape = |all: &Value| {
        let all = all.as_array().unwrap().iter();
        all.filter(|n| n["why"].as_str().unwrap().contains("marking strips"))
            .cloned()
            .collect::<Vec<_>>()
    };
    assert!(
        tape(&to_order)[0]["short"]
            .as_str()
            .unwrap()
            .contains("No roll")
    );

    let film = Uuid::now_v7();
    let body = json!({ "id": film, "film": { "name": "prismatic", "class": "conspicuity_strip", "colour": "#b3261e", "sheet": {} } });
    assert_eq!(api.post("/api/films", body).await.status, 200);
    for (lot, wide, long) in [
        ("P-1", "50", "20 m"),
        ("P-2", "3", "50 yd"),
        ("P-3", "2", "3 in"),
        ("P-4", "2", "50 yd"),
    ] {
        let long = if long == "20 m" {
            json!(20_000.0)
        } else {
            json!(long)
        };
        let wide = if wide == "50" {
            json!(50.0)
        } else {
            json!(wide)
        };
        let roll = json!({ "lot": lot, "width_mm": wide, "length_mm": long });
        let body = json!({ "id": Uuid::now_v7(), "film": film, "roll": roll });
        let done = api.post("/api/rolls", body).await;
        assert_eq!(done.status, 200, "{}", done.body);
    }
    let seen = api.get(&path).await;
    let list = seen["lists"][0].clone();
    let roll = |lot: &str| {
        let all = list["rolls"].as_array().unwrap().iter();
        all.clone().find(|r| r["lot"] == lot).unwrap().clone()
    };
    let fits = |lot: &str| roll(lot)["why_not"].is_null();
    // 50 mm and 2 in are one width; 3 in is not, and 3 in of length are too few for any strip.
    assert!(
        fits("P-1") && fits("P-4") && !fits("P-2") && !fits("P-3"),
        "{list}"
    );
    assert!(list["short"].is_null());
    let ask = |id: Uuid, lot: &str, used: &Value| json!({ "id": id, "tape": list["name"], "roll": roll(lot)["id"], "revision": roll(lot)["revision"], "used_mm": used });
    let used = list["long"]["mm"].clone();
    let short = api.post(&path, ask(Uuid::now_v7(), "P-3", &used)).await;
    assert_eq!(short.status, 422, "{}", short.body);
    assert!(
        short.body["detail"]
            .as_str()
            .unwrap()
            .contains("are needed at the least")
    );
    let other = api
        .post(&path, ask(Uuid::now_v7(), "P-1", &json!(10.0)))
        .await;
    assert_eq!(other.status, 409, "{}", other.body);
    let id = Uuid::now_v7();
    for _ in 0..2 {
        let done = api.post(&path, ask(id, "P-1", &used)).await;
        assert_eq!(done.status, 200, "{}", done.body);
        let cut = &done.body["lists"][0]["cut"][0];
        assert_eq!(
            (cut["lot"].as_str(), cut["changed"].as_bool()),
            (Some("P-1"), Some(false))
        );
    }
    // Taken once from the roll; who saw it before that is told.
    let after = api.get(&path).await;
    let left = |view: &Value| {
        let rolls = view["lists"][0]["rolls"].as_array().unwrap().clone();
        let roll = rolls.into_iter().find(|r| r["lot"] == "P-1").unwrap();
        roll["left"]["mm"].as_f64().unwrap()
    };
    assert!((20_000.0 - left(&after) - sum).abs() < 2.0, "{after}");
    let late = api.post(&path, ask(Uuid::now_v7(), "P-1", &used)).await;
    assert_eq!(late.status, 409, "{}", late.body);
    assert!(tape(&api.get(&order).await).is_empty());
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let told = record.to_string();
    assert!(
        told.contains("Cut from prismatic") && told.contains("of lot P-1"),
        "{told}"
    );

    // On paper with its lot.
    let text = api.pdf(&format!("{}.pdf?paper=a4", marked.path)).await;
    assert!(text.contains("cut from lot P-1 (prismatic)"), "{text}");

    // Laid out otherwise, it is to be cut once more; from another lot, that is said.
    let spec = marked.with(|m| m["way"] = json!("continuous")).await;
    let revision = marked.view().await["revision"].as_i64().unwrap();
    let kept = marked.keep(revision, spec).await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let changed = api.get(&path).await;
    assert_eq!(changed["lists"][0]["cut"][0]["changed"], true, "{changed}");
    assert_eq!(tape(&api.get(&order).await).len(), 1);
    let cut = async |path: &str, lot: &str| {
        let list = api.get(path).await["lists"][0].clone();
        let rolls = list["rolls"].as_array().unwrap().clone();
        let roll = rolls.into_iter().find(|r| r["lot"] == lot).unwrap();
        let body = json!({ "id": Uuid::now_v7(), "tape": list["name"], "roll": roll["id"], "revision": roll["revision"], "used_mm": list["long"]["mm"] });
        let done = api.post(path, body).await;
        assert_eq!(done.status, 200, "{}", done.body);
        done.body["lots"].clone()
    };
    // What was cut before is not on the vehicle: its lot counts no more.
    assert_eq!(cut(&path, "P-4").await, json!([]));
    // The other side from the first roll: two lots on one vehicle.
    let side = api.other_side().await;
    let marking = format!("/api/sides/{side}/marking");
    let kept = api.put(&marking, 0, face()).await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let lots = cut(&format!("{marking}/tape"), "P-1").await.to_string();
    assert!(
        lots.contains("lot P-1") && lots.contains("lot P-4"),
        "{lots}"
    );
}

/// What is left of one roll gives the first strips, another one the others: each of them once, both lots on paper, and what no roll gives is to be ordered.
#[rocket::async_test]
async fn strips_come_from_two_rolls_where_one_has_too_little() {
    let marked = Marked::settled().await;
    let api = &marked.api;
    let path = format!("{}/tape", marked.path);
    let order = format!("/api/jobs/{}/to-order", api.shop.job);
    let film = Uuid::now_v7();
    let body = json!({ "id": film, "film": { "name": "prismatic", "class": "conspicuity_strip", "colour": "#b3261e", "sheet": {} } });
    assert_eq!(api.post("/api/films", body).await.status, 200);
    let put = async |lot: &str, mm: f64| {
        let roll = json!({ "lot": lot, "width_mm": 50.8, "length_mm": mm });
        let body = json!({ "id": Uuid::now_v7(), "film": film, "roll": roll });
        assert_eq!(api.post("/api/rolls", body).await.status, 200);
    };
    let whole = api.get(&path).await["lists"][0]["long"]["mm"].clone();
    let whole = whole.as_f64().unwrap();
    put("R-1", whole * 0.6).await;
    let seen = api.get(&path).await["lists"][0].clone();
    let gives = &seen["rolls"][0]["gives"];
    let (cuts, of) = (
        gives["cuts"].as_u64().unwrap(),
        gives["of"].as_u64().unwrap(),
    );
    assert!(cuts > 0 && cuts < of, "{seen}");
    // What this roll does not give is told before anything is cut.
    let told = seen["short"].as_str().unwrap();
    assert!(
        told.contains(&format!("{cuts} of {of} cuts")) && told.contains("more of marking tape"),
        "{told}"
    );
    assert!(
        api.get(&order)
            .await
            .to_string()
            .contains("more of marking tape")
    );
    let cut = async |lot: &str| {
        let list = api.get(&path).await["lists"][0].clone();
        let rolls = list["rolls"].as_array().unwrap().clone();
        let roll = rolls.into_iter().find(|r| r["lot"] == lot).unwrap();
        let body = json!({ "id": Uuid::now_v7(), "tape": list["name"], "roll": roll["id"], "revision": roll["revision"], "used_mm": roll["gives"]["long"]["mm"] });
        let done = api.post(&path, body).await;
        assert_eq!(done.status, 200, "{}", done.body);
        done.body["lists"][0].clone()
    };
    let first = cut("R-1").await;
    assert_eq!(first["whole"], false);
    assert_eq!(first["cut"].as_array().unwrap().len(), 1);
    // The rest, as long as it is by itself: no cut of it twice.
    put("R-2", whole).await;
    let second = cut("R-2").await;
    assert_eq!(second["whole"], true, "{second}");
    let lots: Vec<&str> = (second["cut"].as_array().unwrap().iter())
        .map(|c| c["lot"].as_str().unwrap())
        .collect();
    assert_eq!(lots, ["R-2", "R-1"]);
    assert!(!api.get(&order).await.to_string().contains("marking strips"));
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let told = record.to_string();
    assert_eq!(told.matches("strip 1 on the").count(), 1, "{told}");
    let text = api.pdf(&format!("{}.pdf?paper=a4", marked.path)).await;
    assert!(
        text.contains("cut from lot R-1 (prismatic)")
            && text.contains("cut from lot R-2 (prismatic)"),
        "{text}"
    );
    // Two lots on one line are told.
    let lots = api.get(&path).await["lots"].to_string();
    assert!(lots.contains("R-1") && lots.contains("R-2"), "{lots}");
    // All of it once more, from the roll that has it.
    let again = api.get(&path).await["lists"][0].clone();
    assert!((again["long"]["mm"].as_f64().unwrap() - whole).abs() < 0.1);
}
