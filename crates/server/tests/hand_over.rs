//! Handing over: what the owner may do and when, and what leaves the shop.

use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::Api;

/// A print on a side, laid.
pub async fn laid(api: &Api, name: &str, back: &str) -> String {
    let piece = api.panel(name, ["24", "12"], back).await;
    api.lies(&piece).await;
    piece
}

#[rocket::async_test]
async fn the_owner_is_told_dates_only_once_all_of_it_lies() {
    let api = Api::start().await;
    let path = format!("/api/jobs/{}/care", api.shop.job);
    let before = api.get(&path).await;
    assert_eq!(
        (
            before["of"].as_u64(),
            before["dates"].as_array().unwrap().len()
        ),
        (Some(0), 0)
    );
    let paper = api
        .call("GET", &format!("{path}.pdf"), Value::Null, &[])
        .await;
    assert_eq!(paper.status, 422);

    laid(&api, "first print", "3'").await;
    let second = api.panel("second print", ["6", "4"], "8'").await;
    let half = api.get(&path).await;
    assert!(
        half["but"]
            .as_str()
            .unwrap()
            .starts_with("1 of 2 pieces do not lie"),
        "{half}"
    );
    let refused = api
        .call("GET", &format!("{path}.ics"), Value::Null, &[])
        .await;
    assert_eq!(
        (refused.status, refused.body["code"].as_str()),
        (422, Some("not_laid"))
    );

    api.lies(&second).await;
    let whole = api.get(&path).await;
    assert!(whole["but"].is_null());
    let of = |what: &str| {
        let dates = whole["dates"].as_array().unwrap();
        dates
            .iter()
            .find(|d| d["what"] == what)
            .cloned()
            .unwrap_or_default()
    };
    assert!(of("wash")["why"].as_str().unwrap().starts_with("3 days"));
    assert!(
        of("holds")["says"]
            .as_str()
            .unwrap()
            .contains("if it is kept above")
    );
    assert!(of("water").is_null(), "a trailer is no boat");

    let pdf = api.pdf(&format!("{path}.pdf?paper=a4")).await;
    for words in [
        "Looking after it",
        "First wash",
        of("remove_by")["when"].as_str().unwrap(),
        "ring the shop",
    ] {
        assert!(pdf.contains(words), "{words}: {pdf}");
    }
    let id = Uuid::now_v7();
    let mail = |to: &str| {
        let (api, path, body) = (&api, format!("{path}-mail"), json!({ "id": id, "to": to }));
        async move { api.post(&path, body).await }
    };
    for wrong in ["", "nobody", "a@b@c", "x\r\nBcc: all@example.org"] {
        assert_eq!(mail(wrong).await.status, 422, "{wrong:?}");
    }
    let sent = mail("owner@example.org").await;
    assert_eq!(sent.status, 200, "{}", sent.body);
    let folder = std::env::temp_dir().join(format!("windrift-outbox-{}", std::process::id()));
    let mails: Vec<String> = std::fs::read_dir(&folder)
        .unwrap()
        .filter_map(|f| std::fs::read_to_string(f.ok()?.path()).ok())
        .collect();
    assert!(mails.iter().any(|m| {
        m.contains("owner@example.org")
            && m.contains("looking-after-it.ics")
            && m.contains("looking-after-it.pdf")
    }));
    // Pressed twice it is one mail, and the record says to whom which dates went.
    let count = || std::fs::read_dir(&folder).unwrap().count();
    let before = count();
    assert_eq!(mail("owner@example.org").await.status, 200);
    assert_eq!(count(), before);
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let told: Vec<&str> = (record["entries"].as_array().unwrap().iter())
        .filter(|e| e["kind"] == "mailed")
        .map(|e| e["what"].as_str().unwrap())
        .collect();
    let [one] = told[..] else { panic!("{told:?}") };
    assert!(one.starts_with("Mailed to owner@example.org: "), "{one}");
    assert!(
        one.contains(of("remove_by")["when"].as_str().unwrap()),
        "{one}"
    );
}

#[rocket::async_test]
async fn what_came_back_is_tied_to_its_spot_counted_honestly_and_told_to_the_next() {
    let api = Api::start().await;
    let job = format!("/api/jobs/{}/call-backs", api.shop.job);
    let first = laid(&api, "first print", "3'").await;
    let back = |piece: String, place: &str| {
        let body = json!({ "id": Uuid::now_v7(), "call_back": { "seen": "lifted_edge", "cause": "not_heated", "place": place,
            "reached": true, "days": 4000, "film": "a better one", "lots": ["made up"] } });
        let api = &api;
        async move {
            api.post(&format!("/api/pieces/{piece}/call-backs"), body)
                .await
        }
    };
    for wrong in ["", "x"] {
        assert_eq!(back(first.clone(), wrong).await.status, 422);
    }
    let kept = back(first.clone(), "lower rear corner").await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    // What it is tied to is what is known here, not what was sent.
    let says = kept.body["of_job"][0]["says"].as_str().unwrap();
    assert_eq!(
        says,
        "Came back: an edge lifted, lower rear corner; it never reached its temperature. 0 days after it was laid. \
         Film: cast print with air channels. Nobody measured it behind the heat."
    );
    let rate = |view: &Value, of: &str| {
        let rates = view["rates"].as_array().unwrap();
        let found = rates
            .iter()
            .find(|r| r["of"].as_str().unwrap().contains(of));
        found.map(|r| (r["back"].as_u64().unwrap(), r["all"].as_u64().unwrap()))
    };
    assert_eq!(rate(&kept.body, "All that was laid"), Some((1, 1)));
    assert_eq!(rate(&kept.body, "Never measured"), Some((1, 1)));
    assert_eq!(rate(&kept.body, "Known to have reached"), Some((0, 0)));
    assert_eq!(
        rate(&kept.body, "never reached its temperature"),
        Some((1, 1))
    );
    // The same piece twice is one piece; another one with such film is told.
    back(first.clone(), "again, the same corner").await;
    let second = laid(&api, "second print", "7'").await;
    let view = api.get(&job).await;
    assert_eq!(rate(&view, "All that was laid"), Some((1, 2)));
    assert!(
        view["rates"][0]["says"]
            .as_str()
            .unwrap()
            .contains("says little")
            || view["rates"][0]["says"]
                .as_str()
                .unwrap()
                .contains("say little")
    );
    let heat = api.get(&format!("/api/sides/{}/heat", api.shop.side)).await;
    let of_second = heat["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["piece"] == second.as_str())
        .unwrap();
    assert!(
        of_second["says"][0]
            .as_str()
            .unwrap()
            .contains("This time: read every inch"),
        "{of_second}"
    );
    let planned = api.get(&format!("/api/pieces/{second}/forming")).await;
    let says = planned["stretches"]["says"][0].as_str().unwrap();
    assert!(
        says.starts_with("Such film came back: an edge lifted at "),
        "{says}"
    );
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    assert!(record.to_string().contains("Came back: an edge lifted"));

    // With a photo, which must be this job's; it is printed in the packet with what its entry says.
    let with = |photo: Uuid| {
        let body = json!({ "id": Uuid::now_v7(), "call_back": { "seen": "lifted_edge", "cause": "not_known", "place": "upper edge", "photo": photo } });
        let (api, path) = (&api, format!("/api/pieces/{first}/call-backs"));
        async move { api.post(&path, body).await }
    };
    assert_eq!(with(Uuid::now_v7()).await.status, 404);
    let photo = Uuid::now_v7();
    let data = windrift_testkit::project().join("crates/formats/tests/data/photos/turned.jpg");
    let path = format!("/api/jobs/{}/photos?photo={photo}", api.shop.job);
    let kept = api.raw(&path, &std::fs::read(data).unwrap()).await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let told = with(photo).await;
    assert_eq!(told.body["of_job"][2]["photo"], photo.to_string());
    let plan = Uuid::now_v7();
    let plans = format!("/api/jobs/{}/plans", api.shop.job);
    let issued = api.post(&plans, json!({ "id": plan })).await;
    assert_eq!(issued.status, 200, "{}", issued.body);
    let packet = api
        .pdf(&format!("/api/plans/{plan}/packet.pdf?paper=a4"))
        .await;
    assert!(packet.contains("Photos in the record"), "{packet}");
    assert!(packet.contains("1 photo stands in the record."));
    let pieces = format!("/api/plans/{plan}/packet.pdf?paper=letter&pieces={second}");
    assert!(!api.pdf(&pieces).await.contains("Photos in the record"));
}

#[rocket::async_test]
async fn the_final_look_is_open_until_each_of_it_is_right_and_anew_after_trouble() {
    let api = Api::start().await;
    let path = format!("/api/sides/{}/final-look", api.shop.side);
    let piece = laid(&api, "a print", "3'").await;
    let view = api.get(&path).await;
    let keys: Vec<String> = view["pieces"][0]["looks"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["key"].as_str().unwrap().to_owned())
        .collect();
    assert_eq!(keys, ["angles", "edges", "corners", "laps", "warm pass"]);
    assert_eq!(view["open"], 5);
    let note = |note: Value| {
        let (api, piece) = (&api, piece.clone());
        async move {
            let body = json!({ "id": Uuid::now_v7(), "note": note });
            api.post(&format!("/api/pieces/{piece}/floor"), body)
                .await
                .status
        }
    };
    let looked = |look: &str| note(json!({ "what": "looked", "look": look }));
    // What is not on its list is not looked at.
    for other in ["", "the weather", "recess 1"] {
        assert_eq!(looked(other).await, 422);
    }
    assert_eq!(api.get(&path).await["open"], 5);
    for key in &keys {
        assert_eq!(looked(key).await, 200);
    }
    let whole = api.get(&path).await;
    assert_eq!(whole["open"], 0);
    // Among the steps of the job it is done then, and open again with it.
    let done = async || {
        let steps = api.get(&format!("/api/jobs/{}/steps", api.shop.job)).await["steps"].clone();
        let steps = steps.as_array().unwrap().clone();
        let look = steps.iter().find(|s| s["key"] == "final-look").unwrap();
        look["done"].clone()
    };
    assert_eq!(done().await, true);
    assert!(
        whole["pieces"][0]["looks"][0]["right"]
            .as_str()
            .unwrap()
            .contains(',')
    );
    // A bubble is found: all of the piece is looked at anew. Laid anew, too.
    note(json!({ "what": "trouble", "seen": "bubble", "place": "upper corner", "heated": false, "outcome": "" })).await;
    assert_eq!(api.get(&path).await["open"], 5);
    assert_eq!(done().await, false);
    looked("edges").await;
    assert_eq!(api.get(&path).await["open"], 4);
    note(json!({ "what": "laid", "strokes": 4, "why": "hung by the eye" })).await;
    assert_eq!(api.get(&path).await["open"], 5);
}

#[rocket::async_test]
async fn all_vehicles_stand_in_one_list_by_when_their_film_comes_off() {
    let mut api = Api::start().await;
    let empty = api.get("/api/removals").await;
    assert_eq!(empty["list"], json!([]));
    let piece = laid(&api, "a print", "3'").await;
    let list = api.get("/api/removals").await["list"].clone();
    let job = api.shop.job;
    assert_eq!(list.as_array().unwrap().len(), 1, "{list}");
    assert_eq!(list[0]["job"], json!(job));
    // The same day as the owner is told.
    let care = api.get(&format!("/api/jobs/{job}/care")).await;
    let told = care["dates"].as_array().unwrap().iter();
    let told = told.clone().find(|d| d["what"] == "remove_by").unwrap();
    assert_eq!(
        (&list[0]["due"], &list[0]["day"]),
        (&told["at"], &told["when"])
    );
    let years = list[0]["days"].as_f64().unwrap() / 365.25;
    assert!((4.9..5.1).contains(&years), "{years}");
    // A finished job stays in it; once its film is off it leaves, and comes back when film lies there again.
    let done = api
        .post(&format!("/api/jobs/{job}/finish"), Value::Null)
        .await;
    assert_eq!(done.status, 200, "{}", done.body);
    let left = api.get("/api/removals").await["list"].clone();
    assert_eq!(left.as_array().unwrap().len(), 1);
    let off = format!("/api/jobs/{job}/film-off");
    for _ in 0..2 {
        assert_eq!(api.post(&off, Value::Null).await.status, 200);
    }
    assert_eq!(api.get("/api/removals").await["list"], json!([]));
    api.lies(&piece).await;
    let again = api.get("/api/removals").await["list"].clone();
    assert_eq!(again.as_array().unwrap().len(), 1);
    // Not a viewer's to say, and nothing is off that never lay.
    api.who = api.shop.crew[2];
    assert_eq!(api.post(&off, Value::Null).await.status, 403);
    api.who = api.shop.crew[0];
    let nothing = format!("/api/jobs/{}/film-off", Uuid::now_v7());
    assert_eq!(api.post(&nothing, Value::Null).await.status, 404);
}
