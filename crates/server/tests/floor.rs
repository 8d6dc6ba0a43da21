//! Hinge and Lay down by API on a real PostgreSQL: the hinge and its reasons, strokes with their proof, somebody's own strokes, the
//! upright edge, troubles, and that what was laid down is known.

use crate::common::{Answer, Api, lettering};
use serde_json::{Value, json};
use uuid::Uuid;

fn says(answer: &Answer, words: &str) {
    let detail = answer.body["detail"].as_str().unwrap_or_default();
    assert!(
        answer.status == 422 && detail.contains(words),
        "{words}: {} {}",
        answer.status,
        answer.body
    );
}

fn panel(width: &str, height: &str, back: &str, down: &str) -> Value {
    json!({
        "art": { "is": "panel", "name": "print", "width_mm": width, "height_mm": height, "bleed_mm": "0", "colour": "#23405c" },
        "place": { "by": "rules",
            "along": { "rule": "from_front", "distance_mm": back, "to": "first_letter" },
            "down": { "rule": "from_datum", "distance_mm": down, "to": "top" },
            "angle": { "rule": "along_datum" } },
        "order": 0,
    })
}

/// The answer that was worked out ahead for a pair of readings as they were typed.
fn ahead_says(ahead: &Value, moved: u64, typed: [&str; 2]) -> Option<Value> {
    let mark = |end: usize| {
        let marks = ahead["marks"][end].as_array().unwrap();
        marks
            .iter()
            .position(|m| m.as_array().unwrap().iter().any(|t| t == typed[end]))
    };
    let (front, rear) = (mark(0)?, mark(1)?);
    let rounds = ahead["rounds"].as_array().unwrap();
    let round = rounds.iter().find(|r| r["rounds_moved"] == moved)?;
    let number = round["says"][front][rear].as_u64()?;
    Some(ahead["answers"][number as usize].clone())
}

#[rocket::async_test]
async fn what_a_phone_carries_ahead_is_what_the_shop_says_of_the_same_readings() {
    let api = Api::start().await;
    let piece = api
        .piece(lettering("TIDEWAY", "14 1/4", "18", "27 3/4"))
        .await;
    let path = format!("/api/pieces/{piece}/readings-ahead");
    let before = api.get(&path).await;
    // Three quarters of an inch either way, by sixteenths, for this round and three more.
    assert_eq!(before["marks"][0].as_array().unwrap().len(), 25);
    assert_eq!(before["rounds"].as_array().unwrap().len(), 4);
    let read = |typed: [&str; 2]| {
        let body = json!({ "id": Uuid::now_v7(), "front_mm": typed[0], "rear_mm": typed[1] });
        let (api, path) = (&api, format!("/api/pieces/{piece}/readings"));
        async move { api.post(&path, body).await }
    };
    let middle = |end: usize| before["marks"][end][12][0].as_str().unwrap().to_owned();
    let off = |end: usize, n: usize| before["marks"][end][n][0].as_str().unwrap().to_owned();
    let (right, low) = (middle(0), off(1, 16));
    // A quarter of an inch low at the rear: the same sentence in the same words.
    let ahead = ahead_says(&before, 0, [&right, &low]).unwrap();
    assert_eq!(ahead["do"], "move");
    let said = read([&right, &low]).await;
    assert_eq!(said.status, 200, "{}", said.body);
    assert_eq!(said.body["sentence"], ahead["sentence"]);
    // Once that is moved: an eighth is left, and then none.
    let left = off(1, 14);
    let next = ahead_says(&before, 1, [&right, &left]).unwrap();
    assert_eq!(
        read([&right, &left]).await.body["sentence"],
        next["sentence"]
    );
    let last = ahead_says(&before, 2, [&right, &middle(1)]).unwrap();
    assert_eq!(last["do"], "lock");
    assert_eq!(
        read([&right, &middle(1)]).await.body["sentence"],
        last["sentence"]
    );
    // Taken anew it begins with the rounds that were moved.
    let now = api.get(&path).await;
    assert_eq!(now["rounds"][0]["rounds_moved"], 2);
    assert_eq!(ahead_says(&now, 2, ["100", "100"]), None);
}

#[rocket::async_test]
async fn the_hinge_is_ranked_overruled_with_a_reason_and_kept() {
    let api = Api::start().await;
    let piece = api
        .piece(lettering("TIDEWAY", "14 1/4", "18", "27 3/4"))
        .await;
    let path = format!("/api/pieces/{piece}/hang");
    let view = api.get(&path).await;
    assert_eq!(view["hang"]["kind"], "top");
    assert_eq!(view["hang"]["ranked"].as_array().unwrap().len(), 8);
    assert_eq!(view["films"].as_array().unwrap().len(), 10);
    assert_eq!(view["turn"]["turn"], 1);
    assert_eq!(view["upright"], Value::Null);
    let mut spec = lettering("TIDEWAY", "14 1/4", "18", "27 3/4");
    let row = format!("/api/pieces/{piece}");
    for (work, words) in [
        (
            json!({ "crew": 1, "hinge": { "kind": "side", "reason": "" } }),
            "few words",
        ),
        (json!({ "crew": 7 }), "One or two people"),
        (json!({ "crew": 1, "celsius": 900 }), "Read it again"),
    ] {
        spec["work"] = work;
        says(&api.put(&row, 1, spec.clone()).await, words);
    }
    spec["work"] = json!({ "crew": 2, "celsius": 5, "film": "cast_print", "way": "wet", "hinge": { "kind": "side", "reason": "a scaffold stands there" } });
    assert_eq!(api.put(&row, 1, spec).await.status, 200);
    let view = api.get(&path).await;
    assert_eq!(view["hang"]["kind"], "side");
    assert_eq!(view["hang"]["own_reason"], "a scaffold stands there");
    assert_eq!(
        view["hang"]["way"]["way"], "dry",
        "air channels refuse wet, whatever was asked"
    );
    assert!(view["hang"]["helper"]["sentence"].is_string());
    assert!(
        view["hang"]["troubles"][0]
            .as_str()
            .unwrap()
            .contains("5 \u{b0}C is outside")
    );
}

#[rocket::async_test]
async fn strokes_are_proven_printed_and_own_ones_judged() {
    let api = Api::start().await;
    let piece = api.piece(panel("5'", "3'", "40", "12")).await;
    let view = api.get(&format!("/api/pieces/{piece}/lay-down")).await;
    let section = &view["lay_down"]["sections"][0];
    let strokes = section["strokes"].as_array().unwrap();
    assert!(strokes.len() > 10 && section["shut_in"].as_array().unwrap().is_empty());
    assert_eq!(section["pressed"], 1.0);
    assert_eq!(view["laid"], false);
    // The proven strokes themselves, judged as anybody's own, shut nothing in that has to be told.
    let press = format!("/api/pieces/{piece}/press");
    let own: Vec<Value> = strokes
        .iter()
        .filter(|s| s["kind"] != "crease")
        .map(|s| json!({ "path": s["path"], "width_mm": s["width_mm"] }))
        .collect();
    let tried = api
        .post(&press, json!({ "section": 0, "strokes": own }))
        .await;
    assert_eq!(tried.status, 200, "{}", tried.body);
    assert_eq!(tried.body["shut_in"], json!([]));
    assert_eq!(tried.body["last"], own.len());
    assert!(
        tried.body["pressed"].as_f64().unwrap() > 0.98,
        "{}",
        tried.body
    );
    // A ring round its middle.
    let corner = |n: usize| {
        let c = &section["corners"][n];
        (c[0].as_f64().unwrap(), c[1].as_f64().unwrap())
    };
    let ((x0, y0), (x1, y1)) = (corner(0), corner(2));
    let at = |right: f64, down: f64| json!([x0 + (x1 - x0) * right, y0 + (y1 - y0) * down]);
    let ring = [(0.3, 0.3), (0.7, 0.3), (0.7, 0.7), (0.3, 0.7), (0.3, 0.3)];
    let ring: Vec<Value> = ring
        .windows(2)
        .map(|p| json!({ "path": [at(p[0].0, p[0].1), at(p[1].0, p[1].1)], "width_mm": 101.6 }))
        .collect();
    let tried = api
        .post(&press, json!({ "section": 0, "strokes": ring }))
        .await;
    assert_eq!(tried.body["shut_in"][0]["stroke"], 4, "{}", tried.body);
    assert_eq!(tried.body["shut_in"][0]["can_be_pressed_out"], true);
    // What cannot be gets a sentence.
    says(
        &api.post(&press, json!({ "section": 9, "strokes": [] }))
            .await,
        "no such section",
    );
    let wide = json!({ "path": [[0.0, 0.0], [9.0, 0.0]], "width_mm": 100000 });
    says(
        &api.post(&press, json!({ "section": 0, "strokes": [wide] }))
            .await,
        "up to 400 mm wide",
    );
    let long = json!({ "path": vec![[0.0, 0.0]; 500], "width_mm": 100 });
    says(
        &api.post(&press, json!({ "section": 0, "strokes": [long] }))
            .await,
        "Start the section again",
    );
    let sheet = api
        .pdf(&format!("/api/pieces/{piece}/strokes.pdf?paper=a4"))
        .await;
    let told = api.get(&format!("/api/pieces/{piece}/lay-down")).await;
    let first = told["lay_down"]["sections"][0]["strokes"][0]["sentence"]
        .as_str()
        .unwrap();
    let words = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(words(&sheet).contains(&words(first)), "{first}: {sheet}");
}

/// The wait runs from the last stroke, on the server; one that is too short is asked about before it is recorded.
#[rocket::async_test]
async fn the_wait_for_the_transfer_tape_runs_for_everybody() {
    let api = Api::start().await;
    let piece = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let mut spec =
        api.get(&format!("/api/sides/{}", api.shop.side)).await["pieces"][0]["spec"].clone();
    spec["work"] = json!({ "crew": 1, "way": "wet" });
    let row = format!("/api/pieces/{piece}");
    assert_eq!(api.put(&row, 1, spec).await.status, 200);
    let (floor, view) = (format!("{row}/floor"), format!("{row}/lay-down"));
    let before = api.get(&view).await;
    let least = before["dwell_minutes"][0].as_u64().unwrap();
    assert!(least >= 15 && before["dwell_from"].is_null(), "{before}");
    let note = |note: Value| json!({ "id": Uuid::now_v7(), "note": note });
    let laid = note(json!({ "what": "laid", "strokes": 9, "why": "hung by the eye" }));
    assert_eq!(api.post(&floor, laid).await.status, 200);
    assert!(api.get(&view).await["dwell_from"].is_string());
    let off = |minutes: u64| json!({ "what": "waited", "minutes": minutes, "reason": "before the transfer tape came off" });
    says(&api.post(&floor, note(off(4))).await, "say why it came off");
    assert!(
        api.get(&view).await["dwell_from"].is_string(),
        "it still runs"
    );
    let mut early = off(4);
    early["why"] = json!("warm air");
    assert_eq!(api.post(&floor, note(early)).await.status, 200);
    let after = api.get(&view).await;
    assert!(after["dwell_from"].is_null());
    assert_eq!(
        after["recorded"][0]["what"],
        "Waited 4 minutes: before the transfer tape came off. Shorter than the film asks: warm air."
    );
}

#[rocket::async_test]
async fn the_floor_is_recorded_once_and_the_job_knows_what_lies() {
    let api = Api::start().await;
    let piece = api.piece(panel("5'", "3'", "40", "12")).await;
    let floor = format!("/api/pieces/{piece}/floor");
    let upright = format!("/api/pieces/{piece}/upright");
    let read =
        |top: &str, foot: &str| json!({ "id": Uuid::now_v7(), "top_mm": top, "foot_mm": foot });
    let answer = api.post(&upright, read("40", "40 1/4")).await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    assert_eq!(answer.body["right"], false);
    // The panel or the body is not square: what each way does at the far corners is told, and what is chosen is recorded.
    let choices = answer.body["choices"].as_array().unwrap();
    assert_eq!(choices.len(), 3);
    assert!(
        choices[1]["sentence"]
            .as_str()
            .unwrap()
            .contains("7/16 too low"),
        "{choices:?}"
    );
    assert!(
        answer.body["sentence"]
            .as_str()
            .unwrap()
            .contains("1/4 too far to the rear")
    );
    assert_eq!(
        api.post(&upright, read("40", "40")).await.body["right"],
        true
    );
    assert_eq!(api.post(&upright, read("40", "forty")).await.status, 422);
    let mut settled = read("40", "40 1/4");
    settled["settled"] = json!("share");
    assert_eq!(api.post(&upright, settled).await.status, 200);
    let trouble = |place: &str| json!({ "id": Uuid::now_v7(), "note": { "what": "trouble", "seen": "bubble", "place": place, "heated": false, "outcome": "pressed out" } });
    says(&api.post(&floor, trouble(" ")).await, "Say where it is");
    let once = trouble("upper rear corner");
    let first = api.post(&floor, once.clone()).await;
    assert_eq!(first.status, 200);
    assert_eq!(api.post(&floor, once).await.body["seq"], first.body["seq"]);
    let stage = |job: &Value| job["stages"][6]["state"].clone();
    let job = format!("/api/jobs/{}", api.shop.job);
    assert_ne!(stage(&api.get(&job).await), "done");
    // Nobody has read it: it is asked why.
    let unread = json!({ "id": Uuid::now_v7(), "note": { "what": "laid", "strokes": 24 } });
    says(
        &api.post(&floor, unread).await,
        "say why it was laid all the same",
    );
    let laid = json!({ "id": Uuid::now_v7(), "note": { "what": "laid", "strokes": 24, "why": "hung by the eye" } });
    assert_eq!(api.post(&floor, laid).await.status, 200);
    let view = api.get(&format!("/api/pieces/{piece}/lay-down")).await;
    assert_eq!(view["laid"], true);
    // Rivet groups are ticked, each once.
    let group = |n: u32| json!({ "id": Uuid::now_v7(), "note": { "what": "rivets", "group": n, "groups": 3, "heads": 12 } });
    for n in [2, 1, 2] {
        assert_eq!(api.post(&floor, group(n)).await.status, 200);
    }
    let ticked = api.get(&format!("/api/pieces/{piece}/lay-down")).await;
    let mut done: Vec<i64> = ticked["rivets_done"]
        .as_array()
        .unwrap()
        .iter()
        .map(|n| n.as_i64().unwrap())
        .collect();
    done.sort_unstable();
    assert_eq!(done, [1, 2]);
    let told: Vec<&str> = view["recorded"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| r["what"].as_str().unwrap())
        .collect();
    assert_eq!(told.len(), 5, "{told:?}");
    assert_eq!(
        told[2],
        "Upright edge of the panel checked: out by 1/4. Hung shared between both."
    );
    assert_eq!(
        told[0],
        "Laid down with 24 strokes. Its hinge was not locked: hung by the eye."
    );
    assert!(told[1].contains("Trouble: bubble at upper rear corner"));
    assert!(told[4].contains("out by 1/4"), "{told:?}");
    let check = api.get(&format!("{job}/record/check")).await;
    assert_eq!(check["broken_at"], Value::Null);
    // Remedies follow the film and the heat.
    let of = |heated| format!("/api/pieces/{piece}/remedies?heated={heated}");
    let bubble = |v: Value| {
        v["remedies"][0]["steps"][0]["text"]
            .as_str()
            .unwrap()
            .to_owned()
    };
    assert!(bubble(api.get(&of(false)).await).contains("by hand"));
    assert!(bubble(api.get(&of(true)).await).contains("Prick"));
}

/// One verdict in every stage: the lock is refused, a fitter may not pass it, the lead may with a reason, and what was laid against it is kept
/// with what spoke against it.
#[rocket::async_test]
async fn a_surface_that_says_no_is_obeyed_until_the_lead_says_why() {
    let mut api = Api::start().await;
    let piece = api
        .piece(lettering("TIDEWAY", "14 1/4", "18", "27 3/4"))
        .await;
    let side = format!("/api/sides/{}", api.shop.side);
    let seen = api.get(&side).await;
    let mut spec = seen["spec"].clone();
    spec["surface"]["finish"] = json!("resprayed");
    let answer = api
        .put(&side, seen["revision"].as_i64().unwrap(), spec)
        .await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    let verdict = |side: &Value| side["pieces"][0]["verdict"].clone();
    let judged = verdict(&api.get(&side).await);
    assert_eq!(judged["refusals"][0]["never"], false);
    let why = judged["refusals"][0]["sentence"]
        .as_str()
        .unwrap()
        .to_owned();
    assert!(why.contains("Nobody knows when it was sprayed"), "{why}");

    assert_eq!(api.read_ends(&piece, "27 3/4", "27 3/4").await.status, 200);
    let lock = format!("/api/pieces/{piece}/lock");
    let fresh_lock = || json!({ "id": Uuid::now_v7() });
    says(
        &api.post(&lock, fresh_lock()).await,
        "Nobody knows when it was sprayed",
    );

    let mut going = lettering("TIDEWAY", "14 1/4", "18", "27 3/4");
    going["work"] = json!({ "crew": 1, "go_on": "the owner signed for it" });
    let row = format!("/api/pieces/{piece}");
    let (lead, fitter) = (api.shop.crew[0], api.shop.crew[1]);
    api.who = fitter;
    let refused = api.put(&row, 1, going.clone()).await;
    assert_eq!(refused.status, 403, "{}", refused.body);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("Only the lead")
    );
    let fresh = json!({ "id": Uuid::now_v7(), "spec": going.clone() });
    assert_eq!(api.post(&format!("{side}/pieces"), fresh).await.status, 403);
    api.who = lead;
    assert_eq!(api.put(&row, 1, going.clone()).await.status, 200);
    // A fitter may go on changing the piece: the lead's word stands.
    api.who = fitter;
    going["work"]["crew"] = json!(2);
    assert_eq!(api.put(&row, 2, going).await.status, 200);
    assert_eq!(
        verdict(&api.get(&side).await)["overruled"],
        "the owner signed for it"
    );
    assert_eq!(api.post(&lock, fresh_lock()).await.status, 200);
    let laid = json!({ "id": Uuid::now_v7(), "note": { "what": "laid", "strokes": 9 } });
    assert_eq!(
        api.post(&format!("/api/pieces/{piece}/floor"), laid)
            .await
            .status,
        200
    );
    let view = api.get(&format!("/api/pieces/{piece}/lay-down")).await;
    let told = view["recorded"][0]["what"].as_str().unwrap();
    assert!(
        told.contains("Laid down with 9 strokes. Against what was said: Nobody knows"),
        "{told}"
    );
}
