//! A thermometer that sends what it reads behind the heat: what is kept of it, where it belongs, and how anybody proves it later.

use serde_json::{Value, json};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_formats::bundle::{Named, pack, unpack};
use windrift_server::bundle::verify;

use crate::bundles::{bytes_of, sha256sum};
use crate::common::{Answer, Api};

/// Readings ten times a second, and how fast the heat is walked, mm/s.
const HERTZ: f64 = 10.0;
const PACE: f64 = 5.0;
/// The thermometer trails the heat by two seconds.
const TRAILS: f64 = 2.0;

struct Walk {
    api: Api,
    device: Uuid,
    key: String,
    piece: String,
    began: OffsetDateTime,
}

impl Walk {
    async fn start() -> Walk {
        let api = Api::start().await;
        let piece = api.panel("badge print", ["6", "4"], "3'").await;
        api.lies(&piece).await;
        let device = Uuid::now_v7();
        let new = json!({ "id": device, "bay": "Bay 1", "name": "gun side", "reads": "heat" });
        let key = api.post("/api/devices", new).await.body["key"]
            .as_str()
            .unwrap()
            .to_owned();
        let began = OffsetDateTime::now_utc() - Duration::minutes(20);
        let began = began.replace_nanosecond(0).unwrap();
        Walk {
            api,
            device,
            key,
            piece,
            began,
        }
    }

    fn at(&self, seconds: f64) -> String {
        (self.began + Duration::seconds_f64(seconds))
            .format(&Rfc3339)
            .unwrap()
    }

    async fn send(&self, readings: Value) -> Answer {
        let key = ("Device-Key", self.key.clone());
        let body = json!({ "readings": readings });
        self.api
            .call("POST", "/api/heat-readings", body, &[key])
            .await
    }

    /// What it showed between two moments, s.
    async fn shows(&self, from: f64, to: f64, panel: impl Fn(f64) -> f64) -> u64 {
        let all: Vec<Value> = (0..((to - from) * HERTZ) as usize)
            .map(|n| from + n as f64 / HERTZ)
            .map(|s| json!({ "at": self.at(s), "celsius": panel((s - from - TRAILS) * PACE) }))
            .collect();
        let mut kept = 0;
        for some in all.chunks(600) {
            let sent = self.send(json!(some)).await;
            assert_eq!(sent.status, 200, "{}", sent.body);
            kept += sent.body["kept"].as_u64().unwrap();
        }
        kept
    }

    async fn say(&self, entry: Value, seconds: f64) -> Answer {
        let body = json!({ "id": Uuid::now_v7(), "entry": entry });
        let at = ("Read-At", self.at(seconds));
        let path = format!("/api/pieces/{}/heat", self.piece);
        self.api.call("POST", &path, body, &[at]).await
    }

    async fn mark(&self, walk: Uuid, along: &str, seconds: f64) -> Answer {
        let entry = json!({ "what": "mark", "run": RUN, "along_mm": along, "walk": walk, "device": self.device });
        self.say(entry, seconds).await
    }
}

const RUN: &str = "edge on the flat";

fn run_of(view: &Value) -> &Value {
    &view["pieces"][0]["runs"][0]
}

#[rocket::async_test]
async fn what_a_thermometer_sent_fills_the_run_and_is_proven_by_the_bundle() {
    let w = Walk::start().await;
    // The edge is 20 in long. A foot in 61 s and 8 in in 41 s, but for a cold spot of 2 in at 7.
    let (first, second) = (304.8 / PACE, 508.0 / PACE);
    let cold = |mm: f64| {
        if (mm - 177.8).abs() < 25.4 {
            70.0
        } else {
            88.0
        }
    };
    let sent = w.shows(0.0, second + 3.0, cold).await;
    assert_eq!(sent, ((second + 3.0) * HERTZ) as u64);
    // Sent again after its answer was lost: nothing twice.
    assert_eq!(w.shows(0.0, second + 3.0, cold).await, 0);
    let walk = Uuid::now_v7();
    let begun = w.mark(walk, "0", 0.0).await;
    assert_eq!(begun.status, 200, "{}", begun.body);
    // Before the second mark nothing has a place.
    assert_eq!(run_of(&begun.body)["share"], 0.0);
    w.mark(walk, "12", first).await;
    let walked = w.mark(walk, "20", second).await;
    let run = run_of(&walked.body);
    let is: Vec<&str> = run["stretches"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| s["is"].as_str().unwrap())
        .collect();
    assert_eq!(is, ["reached", "not_reached", "reached"], "{run}");
    let gap = &run["stretches"][1];
    let (from, to) = (
        gap["from_mm"].as_f64().unwrap(),
        gap["to_mm"].as_f64().unwrap(),
    );
    assert!(
        (from - 152.4).abs() < 26.0 && (to - 203.2).abs() < 26.0,
        "{gap}"
    );
    let refused = w
        .say(json!({ "what": "closed", "run": RUN }), second + 5.0)
        .await;
    assert_eq!(refused.status, 422, "{}", refused.body);
    // Gone back over it while it is warm: with that it is whole, and what is hashed is everything of both walks.
    let again = Uuid::now_v7();
    let more = w.shows(200.0, 225.0, |_| 88.0).await;
    w.mark(again, "5", 200.0).await;
    let whole = w.mark(again, "9", 200.0 + 101.6 / PACE).await;
    assert_eq!(run_of(&whole.body)["share"], 1.0, "{}", whole.body);
    let closed = w.say(json!({ "what": "closed", "run": RUN }), 240.0).await;
    assert_eq!(closed.status, 200, "{}", closed.body);
    // What comes later was not there when it was closed.
    let late = json!([{ "at": w.at(30.05), "celsius": 20.0 }]);
    assert_eq!(w.send(late).await.body["kept"], 1);

    let job = w.api.shop.job;
    let bundle = bytes_of(&w.api, &format!("/api/jobs/{job}/bundle.zip")).await;
    let said = verify(&bundle).unwrap();
    assert!(said.wrong.is_empty(), "{:?}", said.wrong);
    let files = unpack(&bundle).unwrap();
    let (name, table) = files
        .iter()
        .find(|(n, _)| n.starts_with("readings/"))
        .unwrap();
    let record = files.iter().find(|(n, _)| n == "record.jsonl").unwrap();
    let entry = String::from_utf8(record.1.clone())
        .unwrap()
        .lines()
        .map(|l| serde_json::from_str::<Value>(l).unwrap())
        .map(|l| serde_json::from_str::<Value>(l["entry"].as_str().unwrap()).unwrap())
        .find(|e| e["body"]["what"] == "closed")
        .unwrap();
    assert_eq!(
        *name,
        format!("readings/{}.csv", entry["id"].as_str().unwrap())
    );
    assert_eq!(
        sha256sum(table),
        entry["body"]["raw"]["sha256"].as_str().unwrap()
    );
    // By a general reader of tables: as many as the entry says, all of them ours, none of the late one.
    let mut reader = csv::Reader::from_reader(table.as_slice());
    let rows: Vec<(Uuid, String, f64, bool)> = reader.deserialize().map(Result::unwrap).collect();
    let in_walks =
        ((second + 3.0) * HERTZ) as u64 + more.min(((101.6 / PACE + 3.0) * HERTZ) as u64 + 1);
    assert_eq!(
        rows.len() as u64,
        entry["body"]["raw"]["readings"].as_u64().unwrap()
    );
    assert!(
        rows.len().abs_diff(in_walks as usize) <= 1,
        "{}",
        rows.len()
    );
    assert!(rows.iter().all(|r| r.0 == w.device && r.2 > 60.0));
    // Changed with its hash in the list of files, the record still knows better.
    let mut changed: Vec<Named> = files.clone();
    let csv = changed.iter_mut().find(|(n, _)| n == name).unwrap();
    csv.1 = String::from_utf8_lossy(&csv.1)
        .replacen(",70,", ",89,", 1)
        .into_bytes();
    let hash = sha256sum(&csv.1);
    let first_file = &mut changed
        .iter_mut()
        .find(|(n, _)| n == "bundle.json")
        .unwrap()
        .1;
    let mut manifest: Value = serde_json::from_slice(first_file).unwrap();
    manifest["files"][name] = json!(hash);
    *first_file = serde_json::to_vec(&manifest).unwrap();
    let wrong = verify(&pack(&changed).unwrap()).unwrap().wrong;
    assert!(
        wrong.len() == 1 && wrong[0].contains("is not what the thermometer sent"),
        "{wrong:?}"
    );

    // Another Windrift sees the same run; a reading that belongs to no walk of it is not taken in.
    let to = Api::start().await;
    let mut foreign: Vec<Named> = files.clone();
    let first_file = &mut foreign
        .iter_mut()
        .find(|(n, _)| n == "bundle.json")
        .unwrap()
        .1;
    let mut manifest: Value = serde_json::from_slice(first_file).unwrap();
    let tables = manifest["tables"].as_array_mut().unwrap();
    let read = tables
        .iter_mut()
        .find(|t| t["table"] == "heat_reading")
        .unwrap();
    read["rows"][0]["at"] = json!("2020-01-01T00:00:00Z");
    *first_file = serde_json::to_vec(&manifest).unwrap();
    let refused = to.raw("/api/bundles", &pack(&foreign).unwrap()).await;
    assert!(refused.status >= 400, "{}", refused.body);
    let taken = to.raw("/api/bundles", &bundle).await;
    assert_eq!(taken.status, 200, "{}", taken.body);
    let path = format!("/api/sides/{}/heat", w.api.shop.side);
    let (here, there) = (w.api.get(&path).await, to.get(&path).await);
    assert_eq!(run_of(&here)["stretches"], run_of(&there)["stretches"]);
    let back = bytes_of(&to, &format!("/api/jobs/{job}/bundle.zip")).await;
    assert!(verify(&back).unwrap().wrong.is_empty());
}

#[rocket::async_test]
async fn nonsense_is_kept_apart_and_a_key_is_good_for_what_it_was_made_for() {
    let w = Walk::start().await;
    for (reading, words) in [
        (json!({ "celsius": 900 }), "no reading of warm film"),
        (json!({ "celsius": -300 }), "no reading of warm film"),
        (
            json!({ "at": w.at(3.0 * 3600.0), "celsius": 80 }),
            "from the future",
        ),
        (
            json!({ "at": w.at(-3.0 * 86_400.0), "celsius": 80 }),
            "clock is behind",
        ),
    ] {
        let refused = w.send(json!([reading])).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert!(
            refused.body["detail"].as_str().unwrap().contains(words),
            "{}",
            refused.body
        );
    }
    assert_eq!(w.send(json!([])).await.status, 422);
    let two = json!([{ "celsius": 80.0 }, { "celsius": 81.0 }]);
    let refused = w.send(two).await;
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("each say when"),
        "{}",
        refused.body
    );
    // A jump of 200 degrees is kept, marked, and not believed; out of their order they are looked at in it.
    let sent = w
        .send(json!([
            { "at": w.at(1.0), "celsius": 84.0 },
            { "at": w.at(0.4), "celsius": 290.0 },
            { "at": w.at(0.0), "celsius": 83.0 },
        ]))
        .await;
    assert_eq!(
        (sent.body["kept"].as_u64(), sent.body["doubted"].as_u64()),
        (Some(3), Some(1)),
        "{}",
        sent.body
    );
    let known = w.api.get("/api/thermometers").await;
    assert_eq!(
        (known[0]["name"].as_str(), known[0]["celsius"].as_f64()),
        (Some("gun side"), Some(84.0))
    );
    // It hangs in no bay, and a bay's sensor is no thermometer.
    let bay = json!({ "readings": [{ "celsius": 20.0, "humidity": 40.0 }] });
    let key = ("Device-Key", w.key.clone());
    let refused = w.api.call("POST", "/api/readings", bay, &[key]).await;
    assert_eq!(refused.status, 422, "{}", refused.body);
    let other = Uuid::now_v7();
    let new = json!({ "id": other, "bay": "Bay 1", "name": "by the door" });
    let made = w.api.post("/api/devices", new).await;
    let key = ("Device-Key", made.body["key"].as_str().unwrap().to_owned());
    let heat = json!({ "readings": [{ "celsius": 80.0 }] });
    let refused = w
        .api
        .call("POST", "/api/heat-readings", heat.clone(), &[key])
        .await;
    assert_eq!(refused.status, 422, "{}", refused.body);
    let entry = json!({ "what": "mark", "run": RUN, "along_mm": "0", "walk": Uuid::now_v7(), "device": other });
    assert_eq!(w.say(entry, 0.0).await.status, 404);
    // Withdrawn, it sends nothing and no walk begins with it.
    let path = format!("/api/devices/{}/withdraw", w.device);
    assert_eq!(w.api.post(&path, Value::Null).await.status, 200);
    assert_eq!(w.send(json!([{ "celsius": 80.0 }])).await.status, 401);
    let refused = w.mark(Uuid::now_v7(), "0", 5.0).await;
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("was withdrawn"),
        "{}",
        refused.body
    );
    let past = w.mark(Uuid::now_v7(), "30", 5.0).await;
    assert_eq!(past.status, 422);
}
