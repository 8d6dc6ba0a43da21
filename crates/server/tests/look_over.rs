//! Look over by API on a real PostgreSQL: sides, features moved and copied, templates, files, photos, the walk round.

use crate::common::{Answer, Api, lettering};
use rocket::http::ContentType;
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_testkit::project;

fn seams(first: &str, count: u32) -> Value {
    json!({ "kind": "panel_seam", "form": { "form": "upright", "first_mm": first, "pitch_mm": "4'", "count": count } })
}

fn socket(back: &str, drop: &str) -> Value {
    json!({ "kind": "socket", "form": { "form": "round", "back_mm": back, "drop_mm": drop, "across_mm": "2",
        "repeat": { "count": 1, "pitch_mm": 0, "rows": 1, "row_pitch_mm": 0 } }, "clearance_mm": "1/2", "comes_off": "goes_back" })
}

impl Api {
    async fn add_feature(&self, side: &str, spec: Value) -> String {
        let id = Uuid::now_v7().to_string();
        let answer = self
            .post(
                &format!("/api/sides/{side}/features"),
                json!({ "id": id, "spec": spec }),
            )
            .await;
        assert_eq!(answer.status, 200, "{}", answer.body);
        id
    }

    async fn add_side(&self, start: Value) -> Answer {
        let mut body = json!({ "id": Uuid::now_v7() });
        for (key, value) in start.as_object().unwrap() {
            body[key] = value.clone();
        }
        self.post(&format!("/api/jobs/{}/sides", self.shop.job), body)
            .await
    }

    async fn walk(&self, entry: Value) -> Answer {
        let body = json!({ "id": Uuid::now_v7(), "entry": entry });
        self.post(&format!("/api/jobs/{}/walk-round", self.shop.job), body)
            .await
    }
}

fn detail(answer: &Answer) -> String {
    answer.body["detail"]
        .as_str()
        .unwrap_or_default()
        .to_owned()
}

#[rocket::async_test]
async fn any_vehicle_starts_with_its_sides_and_takes_more() {
    let api = Api::start().await;
    let shop = api.get("/api/shop").await;
    for kind in shop["vehicle_kinds"].as_array().unwrap() {
        let new = json!({ "id": Uuid::now_v7(), "customer": "Skerry Ferries", "vehicle_kind": kind["kind"], "unit": "inch_sixteenth" });
        let job = api.post("/api/jobs", new).await;
        assert_eq!(job.status, 200, "{kind}: {}", job.body);
        let kinds: Vec<&Value> = job.body["sides"]
            .as_array()
            .unwrap()
            .iter()
            .map(|s| &s["kind"])
            .collect();
        assert_eq!(json!(kinds), kind["sides"], "{kind}");
        assert_eq!(
            job.body["plan"]["sides"].as_array().unwrap().len(),
            kinds.len(),
            "every one has its place from above"
        );
    }
    for shape in shop["start_shapes"].as_array().unwrap() {
        let added = api
            .add_side(json!({ "start": { "from": "shape", "shape": shape["shape"] } }))
            .await;
        assert_eq!(added.status, 200, "{shape}: {}", added.body);
        // A job has no room for all of them at once.
        let path = format!("/api/sides/{}", added.body["id"].as_str().unwrap());
        let seen = [("If-Match", "\"1\"".to_owned())];
        let gone = api.call("DELETE", &path, Value::Null, &seen).await;
        assert_eq!(gone.status, 200, "{shape}: {}", gone.body);
    }
    // The rear doors offer hinges, rods and lamps, put none there, and go in one undo.
    let added = api
        .add_side(json!({ "kind": "rear", "start": { "from": "shape", "shape": "rear_doors" } }))
        .await;
    let side = added.body["id"].as_str().unwrap();
    let view = api.get(&format!("/api/sides/{side}")).await;
    assert_eq!(view["features"], json!([]));
    assert_eq!(view["offers"].as_array().unwrap().len(), 5);
    assert_eq!(view["edges"]["zero"], "street side edge");
    for offer in view["offers"].as_array().unwrap() {
        let words = json!({ "words": offer["quick"] });
        let heard = api
            .post(&format!("/api/sides/{side}/features/quick"), words)
            .await;
        assert_eq!(
            (heard.status, &heard.body["sentence"]),
            (200, &Value::Null),
            "{offer}"
        );
        let kept = json!({ "id": uuid::Uuid::now_v7(), "spec": heard.body["feature"] });
        let kept = api.post(&format!("/api/sides/{side}/features"), kept).await;
        assert_eq!(kept.status, 200, "{}", kept.body);
    }
    let view = api.get(&format!("/api/sides/{side}")).await;
    assert_eq!(
        (view["features"].as_array().unwrap().len(), &view["offers"]),
        (5, &json!([]))
    );
    for _ in 0..5 {
        let job = format!("/api/jobs/{}", api.shop.job);
        assert_eq!(
            api.post(&format!("{job}/undo"), Value::Null).await.status,
            200
        );
    }
    let jobs = format!("/api/jobs/{}", api.shop.job);
    let sides = |job: &Value| job["sides"].as_array().unwrap().len();
    let before = sides(&api.get(&jobs).await);
    assert_eq!(
        api.post(&format!("{jobs}/undo"), Value::Null).await.status,
        200
    );
    assert_eq!(sides(&api.get(&jobs).await), before - 1);
    assert_eq!(
        api.post(&format!("{jobs}/redo"), Value::Null).await.status,
        200
    );
    assert_eq!(
        api.get(&format!("/api/sides/{side}")).await["offers"]
            .as_array()
            .unwrap()
            .len(),
        5
    );
    // Removed with everything on it, and back in one go.
    let revision = api.get(&format!("/api/sides/{side}")).await["revision"]
        .as_i64()
        .unwrap();
    let gone = api
        .call(
            "DELETE",
            &format!("/api/sides/{side}"),
            Value::Null,
            &[("If-Match", format!("\"{revision}\""))],
        )
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    assert_eq!(
        api.post(&format!("{jobs}/undo"), Value::Null).await.status,
        200
    );
    assert_eq!(
        api.get(&format!("/api/sides/{side}")).await["offers"]
            .as_array()
            .unwrap()
            .len(),
        5
    );
}

#[rocket::async_test]
async fn an_outline_by_readings_and_references_of_its_own() {
    let api = Api::start().await;
    let spec = json!({ "version": 1, "kind": "other", "called": "fairing", "facing": "left", "front": "left", "rail": "panel edge",
        "body": { "shape": "readings", "points": [
            { "back_mm": "0", "drop_mm": "0" }, { "back_mm": "6' 2", "drop_mm": "0" },
            { "back_mm": "6' 2", "drop_mm": "31 1/2", "rounded": true }, { "back_mm": "-2", "drop_mm": "40" } ] },
        "references": [{ "id": Uuid::now_v7(), "name": "body line", "front_drop_mm": "12", "rear_drop_mm": "12 1/4" }],
        "surface": { "material": "gelcoat", "finish": "oxidised" } });
    let added = api
        .add_side(json!({ "start": { "from": "spec", "spec": spec } }))
        .await;
    assert_eq!(added.status, 200, "{}", added.body);
    let path = format!("/api/sides/{}", added.body["id"].as_str().unwrap());
    let view = api.get(&path).await;
    assert_eq!(
        view["levels"][1]["sentence"],
        "The body line falls 1/4 to the rear over 6' 2. It and the panel edge run 1/4 apart."
    );
    assert_eq!(
        (&view["surface"]["magnets"], &view["surface"]["film"]),
        (&json!(false), &json!("with_care"))
    );
    assert_eq!(view["printed"]["/body/points/3/back_mm"], "−2");
    let mut crossed = view["spec"].clone();
    crossed["body"]["points"].as_array_mut().unwrap().swap(1, 2);
    let refused = api.put(&path, 1, crossed).await;
    assert_eq!(
        (refused.status, refused.body["field"].as_str()),
        (422, Some("/spec/points")),
        "{}",
        refused.body
    );
    assert!(detail(&refused).contains("crosses itself"));
    assert_eq!(api.get(&path).await["revision"], 1, "nothing half-saved");

    // A piece may hang on the body line; then the body line stays.
    let mut piece = lettering("HAVEN", "4", "8", "3");
    piece["place"]["reference"] = view["spec"]["references"][0]["id"].clone();
    let id = Uuid::now_v7();
    let row = api
        .post(
            &format!("{path}/pieces"),
            json!({ "id": id, "spec": piece }),
        )
        .await;
    assert_eq!(row.status, 200, "{}", row.body);
    let shown = api.get(&path).await;
    assert_eq!(shown["pieces"][0]["datum_name"], "body line");
    assert_eq!(
        shown["pieces"][0]["readings"]["flats"]["front"]["wanted"]["text"],
        "3"
    );
    let mut without = view["spec"].clone();
    without["references"] = json!([]);
    let refused = api.put(&path, 1, without).await;
    assert!(
        detail(&refused).contains("HAVEN") && detail(&refused).contains("body line"),
        "{}",
        refused.body
    );
}

#[rocket::async_test]
async fn features_are_started_moved_copied_and_guarded() {
    let api = Api::start().await;
    let side = api.shop.side.to_string();
    let path = format!("/api/sides/{side}");
    let column = api.add_feature(&side, seams("4'", 5)).await;
    let plug = api.add_feature(&side, socket("20", "30")).await;
    // Near seam 1 it takes its reading; else whole steps.
    let move_it = |right: f64, line_up: bool| json!({ "id": plug, "spec": socket("20", "30"), "right_mm": right, "down_mm": 0.0, "line_up": line_up });
    let moved = api
        .post(&format!("{path}/features/move"), move_it(28.2 * 25.4, true))
        .await;
    assert_eq!(moved.status, 200, "{}", moved.body);
    assert_eq!(moved.body["moved"]["back"]["text"], "4' 0");
    assert_eq!(
        moved.body["moved"]["lined_up"],
        json!(["In line upright with the seam."])
    );
    let free = api
        .post(
            &format!("{path}/features/move"),
            move_it(28.2 * 25.4, false),
        )
        .await;
    assert_eq!(free.body["moved"]["back"]["text"], "4' 0 3/16");
    let off = api
        .post(&format!("{path}/features/move"), move_it(-900.0, false))
        .await;
    assert_eq!(off.status, 422, "{}", off.body);

    // Every kind starts somewhere that fits.
    for kind in api.get("/api/shop").await["feature_kinds"]
        .as_array()
        .unwrap()
    {
        let start = api
            .post(
                &format!("{path}/features/start"),
                json!({ "kind": kind["kind"], "at": [300.0, 300.0] }),
            )
            .await;
        assert_eq!(start.status, 200, "{kind}: {}", start.body);
        api.add_feature(&side, start.body).await;
    }

    // The mirror side takes a copy at the same distances.
    let none = api
        .post(
            &format!("/api/features/{plug}/mirror"),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert!(
        detail(&none).contains("no side that mirrors"),
        "{}",
        none.body
    );
    let right = api
        .add_side(json!({ "start": { "from": "mirror_of", "side": side } }))
        .await;
    assert_eq!(right.status, 200, "{}", right.body);
    let right = right.body["id"].as_str().unwrap().to_owned();
    let there = api.get(&format!("/api/sides/{right}")).await;
    assert_eq!(
        (&there["name"], &there["mirror"]),
        (&json!("curb side"), &json!(side))
    );
    let copies = there["features"].as_array().unwrap().len();
    let copied = api
        .post(
            &format!("/api/features/{plug}/mirror"),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(copied.status, 200, "{}", copied.body);
    let there = api.get(&format!("/api/sides/{right}")).await;
    assert_eq!(there["features"].as_array().unwrap().len(), copies + 1);
    assert_eq!(there["features"][copies]["printed"]["/form/back_mm"], "20");

    // A seam that a piece is centred on is not removed without a word.
    let mut piece = lettering("HAVEN", "6", "18", "24");
    let edge = |number| json!({ "edge": "feature", "feature": column, "number": number, "part": "middle" });
    piece["place"]["along"] = json!({ "rule": "centred", "from": edge(1), "to": edge(2) });
    api.piece(piece).await;
    let remove = format!("/api/features/{column}");
    let seen = [("If-Match", "\"1\"".to_owned())];
    let asked = api.call("DELETE", &remove, Value::Null, &seen).await;
    assert_eq!(
        (asked.status, asked.body["code"].as_str()),
        (409, Some("in_use"))
    );
    assert!(detail(&asked).contains("HAVEN"));
    let view = api.get(&path).await;
    let held = view["features"]
        .as_array()
        .unwrap()
        .iter()
        .find(|f| f["id"] == column.as_str())
        .unwrap();
    assert_eq!(held["held_by"], json!(["HAVEN"]));
    let gone = api
        .call(
            "DELETE",
            &format!("{remove}?anyway=true"),
            Value::Null,
            &seen,
        )
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    let view = api.get(&path).await;
    assert!(
        view["failed"][0]["problem"]["detail"]
            .as_str()
            .unwrap()
            .contains("no longer there")
    );
}

#[rocket::async_test]
async fn two_people_work_on_different_features_of_one_side() {
    let mut api = Api::start().await;
    let side = api.shop.side.to_string();
    let (a, b) = (
        api.add_feature(&side, socket("20", "30")).await,
        api.add_feature(&side, socket("40", "30")).await,
    );
    assert_eq!(
        api.put(&format!("/api/features/{a}"), 1, socket("21", "30"))
            .await
            .status,
        200
    );
    api.who = api.shop.crew[1];
    assert_eq!(
        api.put(&format!("/api/features/{b}"), 1, socket("41", "30"))
            .await
            .status,
        200
    );
    let view = api.get(&format!("/api/sides/{side}")).await;
    let backs: Vec<&Value> = view["features"]
        .as_array()
        .unwrap()
        .iter()
        .map(|f| &f["printed"]["/form/back_mm"])
        .collect();
    assert_eq!(json!(backs), json!(["21", "41"]));
    // Each undoes their own.
    assert_eq!(
        api.post(&format!("/api/jobs/{}/undo", api.shop.job), Value::Null)
            .await
            .status,
        200
    );
    let view = api.get(&format!("/api/sides/{side}")).await;
    assert_eq!(view["features"][0]["printed"]["/form/back_mm"], "21");
    assert_eq!(view["features"][1]["printed"]["/form/back_mm"], "40");
}

#[rocket::async_test]
async fn bad_features_get_a_clear_sentence_and_nothing_is_half_saved() {
    let api = Api::start().await;
    let side = api.shop.side.to_string();
    let with = |spec: Value, pointer: &str, value: Value| {
        let mut spec = spec;
        *spec.pointer_mut(pointer).unwrap() = value;
        spec
    };
    let cases = [
        (socket("30'", "30"), "past the rear edge"),
        (socket("20", "9'"), "off the side"),
        (socket("-5", "30"), "before the front edge"),
        (
            with(socket("20", "30"), "/form/across_mm", json!("0")),
            "more than 0",
        ),
        (
            with(socket("20", "30"), "/form/across_mm", json!("abc")),
            "is not a length",
        ),
        (
            with(socket("20", "30"), "/kind", json!("rivets")),
            "not measured like this",
        ),
        (
            with(seams("4'", 5), "/form/count", json!(0)),
            "1 to 500 seams",
        ),
        (seams("4'", 9), "Number 7 of these seams"),
    ];
    for (spec, says) in cases {
        let answer = api
            .post(
                &format!("/api/sides/{side}/features"),
                json!({ "id": Uuid::now_v7(), "spec": spec }),
            )
            .await;
        assert_eq!(answer.status, 422, "{spec}");
        assert!(detail(&answer).contains(says), "{spec}: {}", answer.body);
    }
    assert_eq!(
        api.get(&format!("/api/sides/{side}")).await["features"],
        json!([])
    );
}

#[rocket::async_test]
async fn a_side_is_made_the_same_as_the_one_across_and_what_differs_is_told() {
    let api = Api::start().await;
    let side = api.shop.side.to_string();
    let other = api.other_side().await;
    api.add_feature(&side, seams("4'", 5)).await;
    api.add_feature(&side, socket("20", "30")).await;
    let here = format!("/api/sides/{other}");
    let mut spec = api.get(&here).await["spec"].clone();
    let long = spec["body"]["length_mm"].as_f64().unwrap();
    spec["body"]["length_mm"] = json!(long - 50.8);
    assert_eq!(api.put(&here, 1, spec).await.status, 200);
    let same = format!("{here}/same");
    let view = api.get(&same).await;
    assert_eq!(view["differences"].as_array().unwrap().len(), 1, "{view}");
    assert_eq!(view["differences"][0]["what"], "length");
    assert_eq!(view["missing"].as_array().unwrap().len(), 2);
    let all: Vec<Value> = view["missing"]
        .as_array()
        .unwrap()
        .iter()
        .map(|m| m["id"].clone())
        .collect();
    let taken = api
        .post(
            &same,
            json!({ "shape": true, "surface": true, "features": all }),
        )
        .await;
    assert_eq!(taken.status, 200, "{}", taken.body);
    let now = api.get(&same).await;
    assert_eq!(
        (&now["differences"], &now["missing"]),
        (&json!([]), &json!([]))
    );
    let view = api.get(&here).await;
    assert_eq!(view["spec"]["body"]["length_mm"].as_f64(), Some(long));
    assert_eq!(view["features"].as_array().unwrap().len(), 2);
    assert_eq!(now["only_here"], json!([]));
    // What stands here alone is told too: only then are both the same.
    api.add_feature(&other, socket("40", "20")).await;
    assert_eq!(
        api.get(&same).await["only_here"].as_array().unwrap().len(),
        1
    );
    api.undo().await;
    // Nothing is left to take; one undo takes all of it back.
    let again = api
        .post(&same, json!({ "shape": true, "features": all }))
        .await;
    assert!(
        detail(&again).contains("nothing to take over"),
        "{}",
        again.body
    );
    api.undo().await;
    assert_eq!(api.get(&here).await["features"], json!([]));
    // A boat has one waterline: a second one is not offered, wherever it was typed.
    let line = |drop: &str| json!({ "kind": "waterline", "form": { "form": "straight", "back_mm": "10", "drop_mm": drop, "to_back_mm": "20'", "to_drop_mm": drop } });
    api.add_feature(&side, line("40")).await;
    api.add_feature(&other, line("42")).await;
    let missing = api.get(&same).await["missing"].to_string();
    assert!(!missing.contains("waterline"), "{missing}");
}

#[rocket::async_test]
async fn two_sides_of_a_job_are_told_apart_by_their_names() {
    let api = Api::start().await;
    let door = json!({ "kind": "door", "start": { "from": "shape", "shape": "pickup_door" } });
    let mut names = Vec::new();
    for _ in 0..3 {
        let added = api.add_side(door.clone()).await;
        assert_eq!(added.status, 200, "{}", added.body);
        let path = format!("/api/sides/{}", added.body["id"].as_str().unwrap());
        names.push(api.get(&path).await);
    }
    let said: Vec<_> = names.iter().map(|v| v["name"].as_str().unwrap()).collect();
    assert_eq!(said, ["door", "door 2", "door 3"]);
    let third = &names[2];
    let path = format!("/api/sides/{}", third["id"].as_str().unwrap());
    let mut spec = third["spec"].clone();
    spec["called"] = json!("door");
    let refused = api.put(&path, 1, spec.clone()).await;
    assert_eq!(
        (refused.status, refused.body["field"].as_str()),
        (422, Some("/called")),
        "{}",
        refused.body
    );
    spec["called"] = json!("hatch");
    assert_eq!(api.put(&path, 1, spec).await.status, 200);
    let mut typed = door;
    typed["called"] = json!("hatch");
    let refused = api.add_side(typed).await;
    assert_eq!(refused.status, 422, "{}", refused.body);
    assert!(detail(&refused).contains("hatch already"));
}

#[rocket::async_test]
async fn a_template_goes_out_as_json_its_schema_accepts_and_comes_back() {
    let api = Api::start().await;
    let side = api.shop.side.to_string();
    api.add_feature(&side, seams("4'", 5)).await;
    api.add_feature(&side, socket("20", "30")).await;
    let kept = api
        .post(
            &format!("/api/sides/{side}/template"),
            json!({ "id": Uuid::now_v7(), "name": "Library box" }),
        )
        .await;
    assert_eq!(
        (kept.status, &kept.body["features"]),
        (200, &json!(2)),
        "{}",
        kept.body
    );
    let document = api
        .get(&format!(
            "/api/templates/{}/template.json",
            kept.body["id"].as_str().unwrap()
        ))
        .await;

    // A general JSON Schema validator against the published schema.
    let schema = api.get("/api/schemas/side-template.json").await;
    let published: Value = serde_json::from_slice(
        &std::fs::read(project().join("docs/side-template.schema.json")).unwrap(),
    )
    .unwrap();
    assert_eq!(
        schema, published,
        "docs/side-template.schema.json is stale: target/debug/windrift-server schema"
    );
    let validator = jsonschema::draft202012::new(&schema).unwrap();
    assert!(
        validator.is_valid(&document),
        "{:?}",
        validator
            .iter_errors(&document)
            .map(|e| e.to_string())
            .collect::<Vec<_>>()
    );
    for (pointer, value) in [
        ("/side/kind", json!("lid")),
        ("/features/0/form/count", json!("five")),
        ("/side/body", json!({ "shape": "box" })),
    ] {
        let mut wrong = document.clone();
        *wrong.pointer_mut(pointer).unwrap() = value;
        assert!(!validator.is_valid(&wrong), "{pointer}");
        let refused = api
            .post(
                "/api/templates",
                json!({ "id": Uuid::now_v7(), "template": wrong }),
            )
            .await;
        assert_eq!(
            (refused.status, refused.body["code"].as_str()),
            (422, Some("template")),
            "{}",
            refused.body
        );
    }
    let again = api
        .post(
            "/api/templates",
            json!({ "id": Uuid::now_v7(), "template": document }),
        )
        .await;
    assert_eq!(again.status, 200, "{}", again.body);
    // Told apart: read in again it has a number; kept again under the same name it is refused.
    let names: Vec<Value> = api
        .get("/api/templates")
        .await
        .as_array()
        .unwrap()
        .iter()
        .map(|t| t["name"].clone())
        .collect();
    assert_eq!(names, ["Library box", "Library box 2"]);
    let same = api
        .post(
            &format!("/api/sides/{side}/template"),
            json!({ "id": Uuid::now_v7(), "name": " Library box" }),
        )
        .await;
    assert_eq!((same.status, &same.body["field"]), (422, &json!("/name")));
    let started = api
        .add_side(json!({ "kind": "right", "start": { "from": "template", "template": again.body["id"] } }))
        .await;
    let view = api
        .get(&format!(
            "/api/sides/{}",
            started.body["id"].as_str().unwrap()
        ))
        .await;
    assert_eq!(
        (&view["name"], view["features"].as_array().unwrap().len()),
        (&json!("curb side"), 2)
    );
}

#[rocket::async_test]
async fn an_outline_from_a_file_is_read_checked_and_saved_like_any_shape() {
    let api = Api::start().await;
    let path = format!("/api/sides/{}", api.shop.side);
    let file =
        std::fs::read(project().join("crates/formats/tests/data/drawings/box-of-lines-inches.dxf"))
            .unwrap();
    let read = api
        .raw(
            &format!("{path}/outline-file?unit=as_the_file_says&name=box.dxf&measured=24%27"),
            &file,
        )
        .await;
    assert_eq!(read.status, 200, "{}", read.body);
    assert_eq!(read.body["size"], json!(["24' 0", "7' 2"]));
    assert_eq!(
        read.body["fit"],
        "The file says 24' 0, and so does the tape."
    );
    let mut spec = api.get(&path).await["spec"].clone();
    spec["body"] = read.body["body"].clone();
    assert_eq!(api.put(&path, 1, spec).await.status, 200);
    assert_eq!(api.get(&path).await["size"], json!(["24' 0", "7' 2"]));
    for (query, bytes, says) in [
        (
            "unit=millimetre&measured=24%27",
            file.as_slice(),
            "choose inches",
        ),
        ("unit=furlong", file.as_slice(), "Choose the unit"),
        (
            "unit=millimetre",
            b"hello".as_slice(),
            "neither SVG nor DXF",
        ),
    ] {
        let refused = api
            .raw(&format!("{path}/outline-file?{query}"), bytes)
            .await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert!(detail(&refused).contains(says), "{}", refused.body);
    }
    let dxf = api
        .client
        .get(format!("{path}/side.dxf"))
        .dispatch()
        .await
        .into_bytes()
        .await
        .unwrap();
    let again = api
        .raw(&format!("{path}/outline-file?unit=as_the_file_says"), &dxf)
        .await;
    assert_eq!(
        again.body["size"],
        json!(["24' 0", "7' 2"]),
        "{}",
        again.body
    );
}

#[rocket::async_test]
async fn the_walk_round_stands_in_the_record_with_photos_and_a_signature() {
    let api = Api::start().await;
    let (job, side) = (api.shop.job, api.shop.side);
    let photos = project().join("crates/formats/tests/data/photos");
    let photo = Uuid::now_v7();
    let bytes = std::fs::read(photos.join("turned.jpg")).unwrap();
    let kept = api
        .raw(&format!("/api/jobs/{job}/photos?photo={photo}"), &bytes)
        .await;
    assert_eq!(
        (kept.status, &kept.body["width"]),
        (200, &json!(40)),
        "{}",
        kept.body
    );
    let refused = api
        .raw(
            &format!("/api/jobs/{job}/photos?photo={}", Uuid::now_v7()),
            b"#!/bin/sh",
        )
        .await;
    assert!(
        refused.status == 422 && detail(&refused).contains("not a photo"),
        "{}",
        refused.body
    );
    let huge = api
        .raw(
            &format!("/api/jobs/{job}/photos?photo={}", Uuid::now_v7()),
            &vec![0xff; 21 << 20],
        )
        .await;
    assert_eq!(huge.status, 413, "{}", huge.body);

    let dent = json!({ "what": "damage", "side": side, "damage": "dent", "back_mm": "9' 4", "drop_mm": "63", "size_mm": "3", "note": "Shallow.", "photo": photo });
    let entry = json!({ "id": Uuid::now_v7(), "entry": dent });
    let path = format!("/api/jobs/{job}/walk-round");
    for _ in 0..2 {
        // The network blinked: recorded once.
        let found = api.post(&path, entry.clone()).await;
        assert_eq!(found.status, 200, "{}", found.body);
        assert_eq!(
            found.body["sides"][0]["damage"].as_array().unwrap().len(),
            1
        );
        assert_eq!(found.body["sides"][0]["damage"][0]["back"], "9' 4");
    }
    for (entry, says) in [
        (
            json!({ "what": "damage", "side": side, "damage": "dent", "back_mm": "40'", "drop_mm": "3", "size_mm": "3" }),
            "not on the side",
        ),
        (
            json!({ "what": "damage", "side": side, "damage": "dent", "back_mm": "4'", "drop_mm": "3", "size_mm": "0" }),
            "How large",
        ),
        (
            json!({ "what": "paint_doubt", "side": Uuid::now_v7(), "note": "?" }),
            "no such side",
        ),
        (
            json!({ "what": "sign_off", "name": "", "strokes": [] }),
            "name of whoever signs",
        ),
        (
            json!({ "what": "struck", "entry": Uuid::now_v7(), "note": "wrong" }),
            "no such entry",
        ),
    ] {
        let refused = api.walk(entry).await;
        assert!(detail(&refused).contains(says), "{says}: {}", refused.body);
    }
    let plug = api.add_feature(&side.to_string(), socket("20", "30")).await;
    assert_eq!(
        api.walk(json!({ "what": "hardware_off", "feature": plug }))
            .await
            .body["must_go_back"],
        1
    );
    let strokes = json!([[
        [0.1, 0.5],
        [0.2, 0.4],
        [0.3, 0.6],
        [0.4, 0.4],
        [0.5, 0.6],
        [0.6, 0.4],
        [0.7, 0.6],
        [0.8, 0.4]
    ]]);
    let signed = api
        .walk(json!({ "what": "sign_off", "name": "R. Customer", "strokes": strokes }))
        .await;
    assert_eq!(signed.body["signed"]["findings"], 1);
    let later = api
        .walk(json!({ "what": "struck", "entry": entry["id"], "note": "It was mud." }))
        .await;
    assert_eq!(
        (
            &later.body["sides"][0]["damage"],
            &later.body["signed"]["changed_since"]
        ),
        (&json!([]), &json!(1))
    );
    let on = api
        .walk(json!({ "what": "hardware_on", "feature": plug }))
        .await;
    assert_eq!(on.body["sides"][0]["hardware"][0]["state"], "on_again");
    let record = api.get(&format!("/api/jobs/{job}/record")).await;
    let words: Vec<&str> = record["entries"]
        .as_array()
        .unwrap()
        .iter()
        .map(|e| e["what"].as_str().unwrap())
        .collect();
    assert_eq!(words[0], "Found before work: dent, 3: Shallow.");
    assert_eq!(
        api.get(&format!("/api/jobs/{job}/record/check")).await["broken_at"],
        Value::Null
    );
    for paper in ["letter", "a4"] {
        let sheet = api
            .call(
                "GET",
                &format!("{path}.pdf?paper={paper}"),
                Value::Null,
                &[],
            )
            .await;
        assert_eq!((sheet.status, sheet.kind), (200, Some(ContentType::PDF)));
    }
    // What was struck is still in the record.
    assert_eq!(words.len(), 5);
    // Numbers never change: what comes after a struck finding is the second.
    let rust = json!({ "what": "damage", "side": side, "damage": "corrosion", "back_mm": "8'", "drop_mm": "50", "size_mm": "1", "note": "Under the door." });
    let second = api.walk(rust).await;
    assert_eq!(second.body["sides"][0]["damage"][0]["number"], 2);
    assert_eq!(
        (
            &second.body["sides"][0]["struck"][0]["number"],
            &second.body["sides"][0]["struck"][0]["struck"]
        ),
        (&json!(1), &json!("It was mud."))
    );
    // On paper what was signed stands above the signature, what changed since below it, and struck findings are still listed.
    let paper = api.pdf(&format!("{path}.pdf?paper=letter")).await;
    let paper = paper.split_whitespace().collect::<Vec<_>>().join(" ");
    let at = |words: &str| {
        paper
            .find(words)
            .unwrap_or_else(|| panic!("{words}: {paper}"))
    };
    let signed = at("R. Customer,");
    assert!(at("One finding was there before work:") < signed);
    assert!(
        paper[..signed].contains("1: dent 3, 9' 4 back") && paper[..signed].contains("Shallow.")
    );
    assert!(at("2 findings were changed since this was signed") > signed);
    assert!(at("Struck: ") < signed && paper[signed..].contains("Struck: "));
    assert!(paper[signed..].contains("Added: "), "{paper}");
    assert!(
        paper.contains("1: dent, struck"),
        "its photo is printed: {paper}"
    );
}

#[rocket::async_test]
async fn a_photo_lies_squared_up_under_its_side() {
    let api = Api::start().await;
    let job = api.shop.job;
    let path = format!("/api/sides/{}", api.shop.side);
    let photo = Uuid::now_v7();
    let bytes =
        std::fs::read(project().join("crates/formats/tests/data/photos/tilted.png")).unwrap();
    assert_eq!(
        api.raw(&format!("/api/jobs/{job}/photos?photo={photo}"), &bytes)
            .await
            .status,
        200
    );
    let corner = |x: f64, y: f64, back: &str, drop: &str| json!({ "across": x / 480.0, "down": y / 280.0, "back_mm": back, "drop_mm": drop });
    let mut spec = api.get(&path).await["spec"].clone();
    spec["photo"] = json!({ "photo": photo, "points": [
        corner(70.0, 60.0, "0", "0"), corner(430.0, 30.0, "24'", "0"), corner(410.0, 250.0, "24'", "86"), corner(50.0, 210.0, "0", "86") ] });
    let mut line = spec.clone();
    line["photo"]["points"][2] = corner(250.0, 45.0, "12'", "0");
    let refused = api.put(&path, 1, line).await;
    assert!(
        refused.status == 422 && detail(&refused).contains("lie on one line"),
        "{}",
        refused.body
    );
    assert_eq!(api.put(&path, 1, spec).await.status, 200);
    let view = api.get(&path).await;
    let href = view["underlay"]["href"].as_str().unwrap();
    let response = api.client.get(href.to_owned()).dispatch().await;
    assert_eq!(response.content_type(), Some(ContentType::JPEG));
    assert!(
        response
            .into_bytes()
            .await
            .unwrap()
            .starts_with(&[0xff, 0xd8])
    );
}
