//! The shelf and the Film stage by API on a real PostgreSQL: films, rolls measured and cut, panels, layouts on rolls, what is short.

use crate::common::{Answer, Api, lettering};
use serde_json::{Value, json};
use uuid::Uuid;

struct Shelf {
    api: Api,
    film: Uuid,
}

fn film(name: &str, class: &str) -> Value {
    json!({ "name": name, "class": class, "colour": "#14524d", "sheet": {} })
}

impl Shelf {
    /// A shop with one film and no roll.
    async fn start(class: &str) -> Shelf {
        let api = Api::start().await;
        let id = Uuid::now_v7();
        let body = json!({ "id": id, "film": film("spruce", class) });
        let done = api.post("/api/films", body).await;
        assert_eq!(done.status, 200, "{}", done.body);
        Shelf { api, film: id }
    }

    async fn roll(&self, lot: &str, wide: &str, long: &str) -> Answer {
        let roll = json!({ "lot": lot, "width_mm": wide, "length_mm": long });
        let body = json!({ "id": Uuid::now_v7(), "film": self.film, "roll": roll });
        self.api.post("/api/rolls", body).await
    }

    /// A piece that is made of the film.
    async fn piece(&self, mut spec: Value) -> String {
        let shelf = self.api.get("/api/shelf").await;
        let film = shelf["films"][0]["film"].clone();
        spec["work"] = json!({ "crew": 1, "chosen": { "id": self.film, "film": film } });
        self.api.piece(spec).await
    }

    async fn nest(&self, milliseconds: u64) -> Answer {
        let path = format!("/api/jobs/{}/nest", self.api.shop.job);
        let body = json!({ "film": self.film, "milliseconds": milliseconds });
        self.api.post(&path, body).await
    }

    async fn cut(&self, id: Uuid, seen: &Value) -> Answer {
        let rolls: Vec<Value> = (seen["rolls"].as_array().unwrap().iter())
            .map(
                |r| json!({ "id": r["id"], "revision": r["revision"], "used_mm": r["used"]["mm"] }),
            )
            .collect();
        let body = json!({ "id": id, "film": self.film, "rolls": rolls });
        self.api
            .post(&format!("/api/jobs/{}/cut", self.api.shop.job), body)
            .await
    }

    async fn left(&self, n: usize) -> f64 {
        let shelf = self.api.get("/api/shelf").await;
        shelf["films"][0]["rolls"][n]["left"]["mm"]
            .as_f64()
            .unwrap()
    }
}

fn print(width: &str, height: &str, back: &str, down: &str) -> Value {
    json!({
        "art": { "is": "panel", "name": "side print", "width_mm": width, "height_mm": height, "bleed_mm": "1", "colour": "#23405c" },
        "place": { "by": "rules", "along": { "rule": "from_front", "distance_mm": back, "to": "first_letter" },
            "down": { "rule": "from_datum", "distance_mm": down, "to": "top" }, "angle": { "rule": "along_datum" } }
    })
}

#[rocket::async_test]
async fn a_roll_is_measured_by_its_diameters_and_two_people_meet() {
    let shelf = Shelf::start("cut_lettering").await;
    let done = shelf.roll("G-204", "24", "50 yd").await;
    assert_eq!(done.status, 200, "{}", done.body);
    let roll = done.body["films"][0]["rolls"][0].clone();
    assert_eq!(
        (roll["length"]["text"].as_str(), roll["revision"].as_i64()),
        (Some("150' 0"), Some(1))
    );
    // π(D² − d²) / 4t of 5 7/8 over 3 in and 0.2 mm: 64.64 m, by hand.
    let wound = json!({ "outside_mm": "5 7/8", "core_mm": "3", "build_mm": 0.2 });
    let found = shelf.api.post("/api/rolls/wound", wound.clone()).await;
    let mm = |which: &str| found.body[which]["mm"].as_f64().unwrap();
    assert!((mm("length") - 64_640.0).abs() < 15.0, "{}", found.body);
    assert!(mm("least") < mm("length") && mm("length") < mm("most"));
    // The other way round, from a full roll: 50 yd, 7 1/8 over 3 in.
    let full = json!({ "outside_mm": "7 1/8", "core_mm": "3", "length_mm": "50 yd" });
    let turn = shelf.api.post("/api/rolls/full", full).await;
    assert!(
        (turn.body["build_mm"].as_f64().unwrap() - 0.4629).abs() < 1e-3,
        "{}",
        turn.body
    );
    let path = format!("/api/rolls/{}/measured", roll["id"].as_str().unwrap());
    let entry = json!({ "id": Uuid::now_v7(), "seen": 1, "wound": wound });
    for _ in 0..2 {
        // Sent twice, it is entered once.
        let done = shelf.api.post(&path, entry.clone()).await;
        assert_eq!(done.status, 200, "{}", done.body);
        assert_eq!(done.body["films"][0]["rolls"][0]["revision"], 2);
    }
    // Somebody who saw the roll before that is told.
    let late = json!({ "id": Uuid::now_v7(), "seen": 1, "left_mm": "30'" });
    let late = shelf.api.post(&path, late).await;
    assert_eq!(
        (late.status, late.body["code"].as_str()),
        (409, Some("stale")),
        "{}",
        late.body
    );
    for (body, says) in [
        (json!({ "id": Uuid::now_v7(), "seen": 2 }), "one of the two"),
        (
            json!({ "id": Uuid::now_v7(), "seen": 2, "left_mm": "900 yd" }),
            "longer than any roll",
        ),
        (
            json!({ "id": Uuid::now_v7(), "seen": 2, "wound": { "outside_mm": "2", "core_mm": "3", "build_mm": 0.2 } }),
            "wider across than its core",
        ),
    ] {
        let refused = shelf.api.post(&path, body).await;
        let detail = refused.body["detail"].as_str().unwrap_or_default();
        assert!(
            refused.status == 422 && detail.contains(says),
            "{}",
            refused.body
        );
    }
    for (wide, long) in [
        ("0", "50 yd"),
        ("-3", "50 yd"),
        ("24", "0"),
        ("24", "long"),
        ("200", "50 yd"),
    ] {
        let refused = shelf.roll("G-1", wide, long).await;
        assert_eq!(refused.status, 422, "{wide} {long}: {}", refused.body);
    }
    assert_eq!(shelf.roll("", "24", "50 yd").await.status, 422);
}

#[rocket::async_test]
async fn a_data_sheet_is_changed_by_whoever_saw_it_last() {
    let shelf = Shelf::start("cast_print").await;
    let path = format!("/api/films/{}", shelf.film);
    let with = |sheet: Value| {
        let mut film = film("spruce", "cast_print");
        film["sheet"] = sheet;
        json!({ "id": shelf.film, "film": film })
    };
    let seen = |n: i64| [("If-Match", format!("\"{n}\""))];
    let lap = with(json!({ "lap_mm": { "from": 15.0, "to": 20.0 } }));
    let done = shelf.api.call("PUT", &path, lap, &seen(1)).await;
    assert_eq!(done.status, 200, "{}", done.body);
    let figures = done.body["films"][0]["figures"].as_array().unwrap();
    let of = |key: &str| figures.iter().find(|f| f["key"] == key).unwrap();
    assert_eq!(
        (
            of("lap_mm")["from"].as_str(),
            of("stretch")["from"].as_str()
        ),
        (Some("data_sheet"), Some("class"))
    );
    let late = shelf
        .api
        .call("PUT", &path, with(json!({ "stretch": 0.2 })), &seen(1))
        .await;
    assert_eq!(late.status, 409, "{}", late.body);
    // Nothing is planned above 150 °C.
    let hot = shelf
        .api
        .call(
            "PUT",
            &path,
            with(json!({ "ceiling_celsius": 180.0 })),
            &seen(2),
        )
        .await;
    assert_eq!(
        (hot.status, hot.body["field"].as_str()),
        (422, Some("/film/sheet/ceiling_celsius")),
        "{}",
        hot.body
    );
    let sheet = shelf.api.get(&format!("{path}/sheet.json")).await;
    assert_eq!(sheet["sheet"]["lap_mm"]["to"], 20.0);
    // A general JSON Schema validator against the published schema.
    let schema = shelf.api.get("/api/schemas/film.json").await;
    let file = concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../../docs/film.schema.json"
    );
    let published: Value = serde_json::from_slice(&std::fs::read(file).unwrap()).unwrap();
    assert_eq!(
        schema, published,
        "docs/film.schema.json is stale: windrift-server film-schema"
    );
    let validator = jsonschema::draft202012::new(&schema).unwrap();
    assert!(validator.is_valid(&sheet));
    let mut wrong = sheet.clone();
    wrong["sheet"]["lap_mm"] = json!("an inch");
    assert!(!validator.is_valid(&wrong));
}

#[rocket::async_test]
async fn lettering_is_laid_on_its_roll_cut_once_and_gone_from_the_roll() {
    let shelf = Shelf::start("cut_lettering").await;
    let piece = shelf.piece(lettering("HAVEN", "6 in", "12", "24")).await;
    let path = format!("/api/jobs/{}/to-order", shelf.api.shop.job);
    let order = shelf.api.get(&path).await;
    // No roll yet: said, and nothing is made up.
    let none = shelf.nest(0).await;
    let short = none.body["short"].as_str().unwrap_or_default();
    assert!(
        none.status == 200 && short.contains("No roll of spruce is on the shelf"),
        "{}",
        none.body
    );
    assert!(none.body["rolls"].as_array().unwrap().is_empty());
    // How much is to be ordered is worked out all the same: on one 54 in wide the letters lie on less than they are long in a row.
    let new = none.body["new_roll"].clone();
    assert_eq!(new["wide"]["text"], "4' 6");
    let ordered = new["long"]["mm"].as_f64().unwrap();
    assert!(ordered > 100.0 && ordered < 1500.0, "{ordered}");
    assert_eq!(order[0]["amount"], new["long"]["text"]);
    shelf.roll("G-204", "24", "10 yd").await;
    let found = shelf.nest(100).await;
    assert!(found.body["new_roll"].is_null());
    assert_eq!(found.status, 200, "{}", found.body);
    let roll = &found.body["rolls"][0];
    assert_eq!(roll["pieces"].as_array().unwrap().len(), 1);
    let used = roll["used"]["mm"].as_f64().unwrap();
    assert!(used > 100.0 && used + 1.0 >= found.body["least"]["mm"].as_f64().unwrap());
    let id = Uuid::now_v7();
    for _ in 0..2 {
        let done = shelf.cut(id, &found.body).await;
        assert_eq!(done.status, 200, "{}", done.body);
        assert!(done.body["rolls"].as_array().unwrap().is_empty());
        assert_eq!(done.body["cut"][0]["pieces"][0], "HAVEN");
        // Taken once, though it was asked for twice.
        assert!((shelf.left(0).await - (9144.0 - used)).abs() < 1.0);
    }
    // In the job's record, once, with its lot.
    let record = shelf
        .api
        .get(&format!("/api/jobs/{}/record", shelf.api.shop.job))
        .await;
    let cut: Vec<&str> = (record["entries"].as_array().unwrap().iter())
        .filter(|e| e["kind"] == "cut")
        .filter_map(|e| e["what"].as_str())
        .collect();
    assert!(
        cut.len() == 1 && cut[0].contains("of lot G-204 for HAVEN"),
        "{record}"
    );
    // Again with what was seen before: the layout is another by now.
    let again = shelf.cut(Uuid::now_v7(), &found.body).await;
    assert_eq!(again.status, 422, "{}", again.body);
    let job = shelf
        .api
        .get(&format!("/api/jobs/{}/film", shelf.api.shop.job))
        .await;
    let own = job["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["id"] == piece.as_str())
        .unwrap();
    assert_eq!(
        (own["film_name"].as_str(), own["lots"][0].as_str()),
        (Some("spruce"), Some("G-204"))
    );
    assert_eq!(own["changed_since_cut"], false);
    // Moved, it is still what was cut; with other letters it is not.
    let film = json!({ "crew": 1, "chosen": { "id": shelf.film, "film": shelf.api.get("/api/shelf").await["films"][0]["film"] } });
    for (n, text, back, changed) in [(1, "HAVEN", "14", false), (2, "HEAVEN", "14", true)] {
        let mut spec = lettering(text, "6 in", back, "24");
        spec["work"] = film.clone();
        let done = shelf
            .api
            .put(&format!("/api/pieces/{piece}"), n, spec)
            .await;
        assert_eq!(done.status, 200, "{}", done.body);
        let job = shelf
            .api
            .get(&format!("/api/jobs/{}/film", shelf.api.shop.job))
            .await;
        assert_eq!(job["pieces"][0]["changed_since_cut"], changed, "{text}");
        // What is no longer what was cut is to be cut again.
        let left = shelf.nest(0).await.body["rolls"].as_array().unwrap().len();
        assert_eq!(left, usize::from(changed), "{text}");
    }
    // Off the shelf, that is said; and the list of what is needed does not call it there.
    let match_it = [("If-Match", "\"1\"".to_owned())];
    let gone = shelf
        .api
        .call(
            "DELETE",
            &format!("/api/films/{}", shelf.film),
            Value::Null,
            &match_it,
        )
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    let off = shelf.nest(0).await;
    assert!(
        off.status == 422
            && off.body["detail"]
                .as_str()
                .unwrap()
                .contains("no longer on the shelf"),
        "{}",
        off.body
    );
    let list = shelf
        .api
        .get(&format!("/api/jobs/{}/to-order", shelf.api.shop.job))
        .await;
    assert!(
        list.as_array()
            .unwrap()
            .iter()
            .any(|n| n["what"] == "film" && !n["short"].is_null()),
        "{list}"
    );
}

/// Eight odd shapes, mm.
const KIT: &[u8] = br##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1600 1200">
    <path d="M0 0L600 0L0 220Z"/><path d="M700 0L1300 40L760 300Z"/><path d="M0 300L180 300L180 480L420 480L420 620L0 620Z"/>
    <path d="M500 350L760 350L760 290L980 450L760 610L760 550L500 550Z"/><path d="M1100 350L1300 500L1100 720L1000 500Z"/>
    <path d="M0 700L800 700L760 760L0 760Z"/><path d="M0 800L300 820L420 1000L60 1080Z"/><path d="M500 800L900 830L820 1100L560 1060Z"/></svg>"##;

/// Whoever cuts a layout cuts what they saw, also when a shorter one was found before they pressed.
#[rocket::async_test]
async fn a_layout_that_was_seen_is_cut_as_it_was_seen() {
    let shelf = Shelf::start("cut_lettering").await;
    shelf.roll("K-1", "36", "25 yd").await;
    let path = format!(
        "/api/sides/{}/kit-file?unit=millimetre",
        shelf.api.shop.side
    );
    let kit = shelf.api.raw(&path, KIT).await;
    for piece in kit.body["pieces"].as_array().unwrap() {
        shelf.piece(piece["piece"].clone()).await;
    }
    let used = |nest: &Answer| nest.body["used"]["mm"].as_f64().unwrap();
    let first = shelf.nest(0).await;
    assert_eq!(first.status, 200, "{}", first.body);
    let mut newest = shelf.nest(500).await;
    for _ in 0..40 {
        if used(&newest) < used(&first) - 1.0 {
            break;
        }
        newest = shelf.nest(500).await;
    }
    assert!(used(&newest) < used(&first) - 1.0, "a shorter one is found");
    // One that nobody saw is not cut.
    let mut never = first.body.clone();
    never["rolls"][0]["used"]["mm"] = json!(used(&first) + 500.0);
    let refused = shelf.cut(Uuid::now_v7(), &never).await;
    assert_eq!(
        (refused.status, refused.body["code"].as_str()),
        (409, Some("stale"))
    );
    let before = shelf.left(0).await;
    let done = shelf.cut(Uuid::now_v7(), &first.body).await;
    assert_eq!(done.status, 200, "{}", done.body);
    let taken = before - shelf.left(0).await;
    assert!(
        (taken - used(&first)).abs() < 2.0,
        "{taken} for {}",
        used(&first)
    );
}

#[rocket::async_test]
async fn somebody_elses_cut_is_told_and_lots_are_watched() {
    let shelf = Shelf::start("cut_lettering").await;
    shelf.roll("G-204", "24", "10 yd").await;
    shelf.piece(lettering("HAVEN", "6 in", "12", "24")).await;
    let seen = shelf.nest(0).await.body;
    // Somebody measures the roll meanwhile.
    let roll = seen["rolls"][0]["id"].as_str().unwrap().to_owned();
    let entry = json!({ "id": Uuid::now_v7(), "seen": 1, "left_mm": "20'" });
    shelf
        .api
        .post(&format!("/api/rolls/{roll}/measured"), entry)
        .await;
    let late = shelf.cut(Uuid::now_v7(), &seen).await;
    assert_eq!(
        (late.status, late.body["code"].as_str()),
        (409, Some("stale")),
        "{}",
        late.body
    );
    let now = shelf.nest(0).await.body;
    assert_eq!(shelf.cut(Uuid::now_v7(), &now).await.status, 200);
    // The rest of that roll is used up; another lot is on the shelf, and a second piece of the same side.
    let revision = shelf.api.get("/api/shelf").await["films"][0]["rolls"][0]["revision"].clone();
    let empty = json!({ "id": Uuid::now_v7(), "seen": revision, "left_mm": 0 });
    let done = shelf
        .api
        .post(&format!("/api/rolls/{roll}/measured"), empty)
        .await;
    assert_eq!(done.status, 200, "{}", done.body);
    shelf.roll("G-219", "24", "10 yd").await;
    shelf.piece(lettering("BOOKS", "6 in", "12", "40")).await;
    let second = shelf.nest(0).await.body;
    assert_eq!(shelf.cut(Uuid::now_v7(), &second).await.status, 200);
    let job = shelf
        .api
        .get(&format!("/api/jobs/{}/film", shelf.api.shop.job))
        .await;
    let told = job["lots"][0].as_str().unwrap_or_default();
    assert!(
        told.contains("G-219") && told.contains("G-204") && told.contains("seen together"),
        "{job}"
    );
}

#[rocket::async_test]
async fn a_print_goes_in_panels_and_what_cannot_be_is_said() {
    let shelf = Shelf::start("cast_print").await;
    let id = shelf.piece(print("120", "60", "6", "6")).await;
    let path = format!("/api/pieces/{id}/panels");
    let none = shelf.api.get(&path).await;
    // No roll on the shelf: a common one is taken, 54 in.
    assert!((none["roll"]["mm"].as_f64().unwrap() - 1371.6).abs() < 1e-6);
    shelf.roll("K-118", "30", "50 yd").await;
    let found = shelf.api.get(&path).await;
    let best = &found["panels"]["best"];
    // 62 in with its bleed, 30 less twice 15 mm printable, an inch of lap: lying it takes (1574.8 − 25.4) / (732 − 25.4) = 2.2, so three.
    assert_eq!(
        (
            best["stand"].as_str(),
            best["panels"].as_array().unwrap().len()
        ),
        (Some("lying"), 3),
        "{found}"
    );
    let widest = |p: &Value| p["height"]["mm"].as_f64().unwrap() <= 732.01;
    assert!(best["panels"].as_array().unwrap().iter().all(widest));
    let narrow = shelf
        .api
        .call("GET", &format!("{path}?width_mm=40"), Value::Null, &[])
        .await;
    assert_eq!(narrow.status, 422, "{}", narrow.body);
    assert!(
        narrow.body["detail"]
            .as_str()
            .unwrap()
            .contains("lap is as wide"),
        "{}",
        narrow.body
    );
    let wrong = shelf
        .api
        .call("GET", &format!("{path}?width_mm=-5"), Value::Null, &[])
        .await;
    assert_eq!(wrong.status, 422);
    // Its panels lie on the roll, none turned, in lots of their own.
    let nest = shelf.nest(50).await;
    assert_eq!(nest.status, 200, "{}", nest.body);
    let pieces = nest.body["rolls"][0]["pieces"].as_array().unwrap();
    assert!(
        pieces.len() == 3 && pieces.iter().all(|p| p["turned"] == false),
        "{}",
        nest.body
    );
    // Ranked for it: the print film suits; lettering film does not.
    let other = json!({ "id": Uuid::now_v7(), "film": film("letters", "cut_lettering") });
    shelf.api.post("/api/films", other).await;
    let ranked = shelf
        .api
        .get(&format!("/api/pieces/{id}/films?years=7"))
        .await;
    let last = ranked["ranked"].as_array().unwrap().last().unwrap();
    assert_eq!(
        (last["name"].as_str(), last["suits"].as_str()),
        (Some("letters"), Some("no")),
        "{ranked}"
    );
    let first = &ranked["ranked"][0];
    let bad = first["bad"].as_array().unwrap();
    assert!(
        bad.iter().any(|b| b
            .as_str()
            .unwrap()
            .contains("lasts 5 years upright, 7 are wanted")),
        "{first}"
    );
    // What is needed, also as a table.
    let list = shelf
        .api
        .get(&format!("/api/jobs/{}/to-order", shelf.api.shop.job))
        .await;
    assert!(
        list.as_array()
            .unwrap()
            .iter()
            .any(|n| n["what"] == "spruce"),
        "{list}"
    );
}

#[rocket::async_test]
async fn the_shelf_goes_out_as_a_table_and_comes_in_again() {
    let shelf = Shelf::start("cut_lettering").await;
    shelf.roll("=1+1", "24", "10 yd").await;
    let table = shelf
        .api
        .client
        .get("/api/shelf.csv")
        .dispatch()
        .await
        .into_string()
        .await
        .unwrap();
    assert!(table.starts_with("film,class,colour,lot,width_mm,left_mm,place,offcut\r\n"));
    assert!(
        table.contains("spruce,cut_lettering,#14524d,'=1+1,609.6,9144.0,,false"),
        "{table}"
    );
    let more = table
        .replace("'=1+1", "G-9")
        .replace("spruce", "gull white");
    let done = shelf.api.raw("/api/shelf.csv", more.as_bytes()).await;
    assert_eq!(done.status, 200, "{}", done.body);
    assert_eq!(done.body["films"].as_array().unwrap().len(), 2);
    // The same table again puts nothing more there; a table with a wrong last line puts nothing there at all.
    let again = shelf.api.raw("/api/shelf.csv", more.as_bytes()).await;
    assert_eq!(again.body, done.body);
    let half =
        format!("{more}brown,cut_lettering,#14524d,,600,100,,false\r\n").replace("G-9", "G-10");
    let refused = shelf.api.raw("/api/shelf.csv", half.as_bytes()).await;
    assert!(
        refused.status == 422 && refused.body["detail"].as_str().unwrap().contains("Line 3"),
        "{}",
        refused.body
    );
    assert_eq!(shelf.api.get("/api/shelf").await, done.body);
    for bad in [
        "",
        "film,class\nx,y\n",
        "film,class,colour,lot,width_mm,left_mm\nx,cut_lettering,#14524d,L,-4,100\n",
    ] {
        let refused = shelf.api.raw("/api/shelf.csv", bad.as_bytes()).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
    }
    assert_eq!(
        shelf.api.get("/api/shelf").await["films"]
            .as_array()
            .unwrap()
            .len(),
        2
    );
}

#[rocket::async_test]
async fn tapes_and_liquids_stand_on_the_shelf_and_what_is_short_of_them_is_told() {
    let shelf = Shelf::start("cast_print").await;
    shelf.roll("S-1", "54", "25 yd").await;
    shelf.piece(print("8 ft", "4 ft", "12", "24")).await;
    let (id, api) = (Uuid::now_v7(), &shelf.api);
    let put = |supply: Value| {
        let body = json!({ "id": Uuid::now_v7(), "supply": supply });
        api.post("/api/supplies", body)
    };
    let tape = |left: &str| json!({ "id": id, "supply": { "kind": "cutting_tape", "name": "thread", "width_mm": "1/4", "left_mm": left } });
    let done = api.post("/api/supplies", tape("20 ft")).await;
    assert_eq!(done.status, 200, "{}", done.body);
    // Sent twice, it is one.
    let twice = api.post("/api/supplies", tape("20 ft")).await;
    assert_eq!(twice.body["supplies"].as_array().unwrap().len(), 1);
    put(json!({ "kind": "masking_tape", "name": "green", "width_mm": "2", "left_mm": "60 yd" }))
        .await;
    put(json!({ "kind": "promoter", "name": "can", "left": 250 })).await;

    let listed = || async {
        let list = api
            .get(&format!("/api/jobs/{}/to-order", api.shop.job))
            .await;
        move |what: &str| {
            let all = list.as_array().unwrap();
            let found = all
                .iter()
                .find(|n| n["what"].as_str().unwrap().starts_with(what));
            found.unwrap_or_else(|| panic!("{what}: {list}")).clone()
        }
    };
    let need = listed().await;
    // 8 by 4 ft as trimmed: 24 ft of edge, all of it on the flat, of which 20 ft are there.
    let thread = need("cutting tape");
    assert_eq!(thread["amount"], "24' 0", "{thread}");
    assert_eq!(thread["short"], "4' 0 more than the shelf has.", "{thread}");
    // Its front edge and its foot, 12 ft: 3.6576 m at 4 ml, 14.63 ml, 0.49 US fl oz; told upwards.
    assert_eq!(need("adhesion promoter")["amount"], "0.5 fl oz");
    assert!(need("adhesion promoter")["short"].is_null());
    assert!(need("masking tape, 2 wide")["short"].is_null());
    // No laminate and no blade is there.
    assert!(!need("laminate")["short"].is_null());
    assert_eq!(need("snap blades")["amount"], "2");

    // Somebody who saw an older state is told; what nobody can have is refused.
    let path = format!("/api/supplies/{id}");
    let now = api
        .call(
            "PUT",
            &path,
            tape("40 ft"),
            &[("If-Match", "\"1\"".to_owned())],
        )
        .await;
    assert_eq!(now.status, 200, "{}", now.body);
    assert!(listed().await("cutting tape")["short"].is_null());
    let late = api
        .call(
            "PUT",
            &path,
            tape("10 ft"),
            &[("If-Match", "\"1\"".to_owned())],
        )
        .await;
    assert_eq!(
        (late.status, late.body["code"].as_str()),
        (409, Some("stale"))
    );
    for (bad, says) in [
        (
            json!({ "kind": "promoter", "name": "can", "left": -1 }),
            "must be a number from 0",
        ),
        (
            json!({ "kind": "promoter", "name": " ", "left": 1 }),
            "a name of 1 to 80",
        ),
        (
            json!({ "kind": "laminate", "name": "gloss", "left_mm": "3 ft" }),
            "How wide it is",
        ),
        (
            json!({ "kind": "masking_tape", "name": "x", "width_mm": "2", "left_mm": "a lot" }),
            "a lot",
        ),
    ] {
        let refused = put(bad).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert!(
            refused.body["detail"].as_str().unwrap().contains(says),
            "{}",
            refused.body
        );
    }
    let gone = api.call("DELETE", &path, Value::Null, &[]).await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    assert!(!listed().await("cutting tape")["short"].is_null());
}

#[rocket::async_test]
async fn a_film_is_taken_for_all_that_can_take_it_in_one_go_and_taken_back_by_one_undo() {
    let shelf = Shelf::start("cut_lettering").await;
    let api = &shelf.api;
    let job = format!("/api/jobs/{}", api.shop.job);
    let white = |mut spec: Value| {
        spec["art"]["colour"] = json!("#ffffff");
        spec
    };
    let open = api.piece(lettering("ONE", "6 in", "12", "8")).await;
    let path = format!("/api/pieces/{open}/same-film");
    let none_yet = api.post(&path, Value::Null).await;
    assert!(
        none_yet.status == 422 && none_yet.body.to_string().contains("has no film yet"),
        "{}",
        none_yet.body
    );
    api.piece(lettering("TWO", "6 in", "12", "16")).await;
    api.piece(white(lettering("THREE", "6 in", "12", "24")))
        .await;
    api.piece(print("2 ft", "1 ft", "80", "24")).await;
    let first = shelf.piece(lettering("HAVEN", "6 in", "12", "32")).await;
    let taken = || async {
        let film = api.get(&format!("{job}/film")).await;
        let pieces = film["pieces"].as_array().unwrap().clone();
        let with = pieces.iter().filter(|p| !p["film"].is_null()).count();
        let own = pieces.iter().find(|p| p["id"] == first.as_str()).unwrap();
        (with, own["film_for_more"].as_u64().unwrap())
    };
    // Its two lines of the same colour: not the white one, and no print.
    assert_eq!(taken().await, (1, 2));
    let path = format!("/api/pieces/{first}/same-film");
    let done = api.post(&path, Value::Null).await;
    assert_eq!(done.status, 200, "{}", done.body);
    assert_eq!(taken().await, (3, 0));
    let again = api.post(&path, Value::Null).await;
    assert!(
        again.status == 422
            && again
                .body
                .to_string()
                .contains("No other piece of this side"),
        "{}",
        again.body
    );
    let undone = api.post(&format!("{job}/undo"), Value::Null).await;
    assert_eq!(undone.status, 200, "{}", undone.body);
    assert_eq!(taken().await, (1, 2));
}

#[rocket::async_test]
async fn where_it_stretches_is_tried_with_other_films_and_nonsense_is_told() {
    let shelf = Shelf::start("cast_print").await;
    let api = &shelf.api;
    let recess = json!({ "kind": "recess", "form": { "form": "rectangle", "back_mm": "40", "drop_mm": "40", "to": "middle", "width_mm": "12", "height_mm": "4",
            "repeat": { "count": 1, "pitch_mm": "0", "rows": 1, "row_pitch_mm": "0" } },
        "clearance_mm": "0", "details": { "of": "recess", "depth_mm": "3/4", "wall_degrees": 90, "open": "enclosed" } });
    let path = format!("/api/sides/{}/features", api.shop.side);
    let done = api
        .post(&path, json!({ "id": Uuid::now_v7(), "spec": recess }))
        .await;
    assert_eq!(done.status, 200, "{}", done.body);
    let piece = shelf.piece(print("5 ft", "3 ft", "12", "24")).await;
    let strict = Uuid::now_v7();
    let body = json!({ "id": strict, "film": { "name": "strict", "class": "cast_print", "colour": "#ffffff", "sheet": { "stretch_most": 0.12 } } });
    assert_eq!(api.post("/api/films", body).await.status, 200);
    let with = |more: String| {
        let path = format!("/api/pieces/{piece}/forming{more}");
        async move { api.call("GET", &path, Value::Null, &[]).await }
    };
    let ways = |answer: &Answer| -> Vec<String> {
        let places = answer.body["stretches"]["places"].as_array().unwrap();
        let way =
            |p: &Value| (p["kind"] == "recess").then(|| p["forming"].as_str().unwrap().to_owned());
        places.iter().filter_map(way).collect()
    };
    let own = with(String::new()).await;
    // 4 in wide, 3/4 in deep: past the aim with 2 in of warm film on each side, within it with 6.
    assert_eq!(ways(&own), ["warm_and_heat"], "{}", own.body);
    let other = own.body["others"]
        .as_array()
        .unwrap()
        .iter()
        .find(|o| o["name"] == "strict")
        .unwrap();
    assert_eq!(other["worst"], "inlay");
    assert_eq!(ways(&with(format!("?film={strict}")).await), ["inlay"]);
    assert_eq!(ways(&with("?band=6&school=bridge".into()).await), ["warm"]);
    for (more, says) in [
        ("?band=wide", "wide"),
        ("?band=40", "at most"),
        ("?school=other", "Choose one of them"),
    ] {
        let refused = with(more.into()).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert!(
            refused.body["detail"].as_str().unwrap().contains(says),
            "{}",
            refused.body
        );
    }
    assert_eq!(with(format!("?film={}", Uuid::now_v7())).await.status, 404);
}

#[rocket::async_test]
async fn hours_before_the_fitting_are_kept_and_two_people_meet() {
    let shelf = Shelf::start("cast_print").await;
    let api = &shelf.api;
    shelf.piece(print("5 ft", "3 ft", "12", "24")).await;
    let path = format!("/api/jobs/{}/by-when", api.shop.job);
    let at = |days: i64| {
        let when = time::OffsetDateTime::now_utc() + time::Duration::days(days);
        format!("{}T08:00", when.date())
    };
    let settle = |seen: i32, fit_at: String, done: Value| {
        let body = json!({ "seen": seen, "fit_at": fit_at, "ink": "solvent", "done": done });
        async { api.call("PUT", &path, body, &[]).await }
    };
    let none = api.get(&path).await;
    assert!(none["fit_at"].is_null() && none["steps"].as_array().unwrap().is_empty());
    for (fit_at, says) in [
        (at(-2), "has passed"),
        (at(2000), "two years away"),
        ("soon".into(), "the day and the hour"),
    ] {
        let refused = settle(0, fit_at, json!([])).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert!(
            refused.body["detail"].as_str().unwrap().contains(says),
            "{}",
            refused.body
        );
    }
    let set = settle(0, at(6), json!([])).await;
    assert_eq!(
        (set.status, set.body["revision"].as_i64()),
        (200, Some(1)),
        "{}",
        set.body
    );
    assert_eq!(set.body["steps"].as_array().unwrap().len(), 6);
    // Sent again it is the same; somebody who saw nothing yet is told.
    assert_eq!(settle(0, at(6), json!([])).await.body["revision"], 1);
    let late = settle(0, at(7), json!([])).await;
    assert_eq!(
        (late.status, late.body["code"].as_str()),
        (409, Some("stale"))
    );
    // Printed now: gassed out a day later, by the clock of the server.
    let printed = settle(1, at(6), json!([{ "step": "print" }])).await;
    assert!(printed.body["gassed_out"].is_string(), "{}", printed.body);
    let when = printed.body["steps"][0]["done"].clone();
    // What was said before keeps its hour.
    let more = settle(2, at(6), json!([{ "step": "print" }, { "step": "outgas" }])).await;
    assert_eq!(more.body["steps"][0]["done"], when);
    let future = json!([{ "step": "print", "at": at(3) }]);
    let refused = settle(3, at(6), future).await;
    assert_eq!(refused.status, 422, "{}", refused.body);
    // Taken back again. Each of it is an entry of the record, and what was sent twice is there once.
    settle(3, at(6), json!([{ "step": "print" }])).await;
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let made: Vec<&str> = (record["entries"].as_array().unwrap().iter())
        .filter(|e| e["kind"] == "made")
        .map(|e| e["what"].as_str().unwrap())
        .collect();
    assert_eq!(made.len(), 4, "{made:?}");
    assert!(
        made[0].starts_with("The fitting starts ")
            && made[0].ends_with("whatever is printed, in solvent ink.")
    );
    assert!(made[1].starts_with("Before the fitting: printing, done "));
    assert_eq!(
        made[3],
        "Before the fitting: gassing out, not done after all."
    );
}

#[rocket::async_test]
async fn every_stage_hands_out_its_steps_and_what_is_done_is_told() {
    let shelf = Shelf::start("cast_print").await;
    let api = &shelf.api;
    let path = format!("/api/jobs/{}/steps", api.shop.job);
    let none = api.get(&path).await;
    assert_eq!(none["steps"].as_array().unwrap().len(), 0);
    assert!(
        none["left"]
            .as_str()
            .unwrap()
            .starts_with("Nothing is laid out")
    );
    let piece = shelf.piece(print("5 ft", "3 ft", "12", "24")).await;
    let view = api.get(&path).await;
    let steps = view["steps"].as_array().unwrap();
    let keys: Vec<String> = steps
        .iter()
        .map(|s| s["key"].as_str().unwrap().to_owned())
        .collect();
    // Each comes after one that is there, and hours are ranges.
    for s in steps {
        assert!(
            s["after"].is_null() || keys.contains(&s["after"].as_str().unwrap().to_owned()),
            "{s}"
        );
        assert!(
            s["hours"]["from"].as_f64() <= s["hours"]["to"].as_f64() && s["done"] == false,
            "{s}"
        );
    }
    let stage = |name: &str| steps.iter().filter(|s| s["stage_name"] == name).count();
    assert_eq!(
        (stage("Strip"), stage("Lay down"), stage("Hand over")),
        (0, 1, 1)
    );
    assert!(stage("Prep") >= 4 && stage("Heat & seal") >= 1, "{keys:?}");
    assert!(
        view["left"]
            .as_str()
            .unwrap()
            .contains("of one pair of hands")
    );
    // 5 ft by 3 ft with an inch of bleed all round are 1.52 m², pressed in 3 to 10 min each and hung in 12 to 36 (ours): by hand 0.276 to 0.853 h.
    let lay = steps.iter().find(|s| s["stage"] == "lay_down").unwrap();
    let hours = [&lay["hours"]["from"], &lay["hours"]["to"]].map(|h| h.as_f64().unwrap());
    assert!(
        (hours[0] - 0.276).abs() < 0.001 && (hours[1] - 0.853).abs() < 0.001,
        "{hours:?}"
    );
    api.lies(&piece).await;
    let after = api.get(&path).await;
    let done = |v: &Value| {
        v["steps"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|s| s["done"] == true)
            .count()
    };
    assert_eq!(done(&after), 1);
    // Nobody ticked how it was cleaned: under film that lies that is not left to do, and is not said to be done.
    let stages = |v: &Value, name: &str| {
        v["steps"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|s| s["stage_name"] == name)
            .count()
    };
    assert_eq!(stages(&after, "Prep"), 0, "{after}");
    assert_eq!(stages(&after, "Heat & seal"), stage("Heat & seal"));
}
