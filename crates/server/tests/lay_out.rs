//! Lay out by API on a real PostgreSQL: the better spot, several pieces in one go, kits, mirrors, marks, stripes over several parts, the
//! story tape, the shop's figures and typefaces.

use crate::common::{Answer, Api, lettering};
use rocket::http::ContentType;
use serde_json::{Value, json};
use uuid::Uuid;

fn detail(answer: &Answer) -> String {
    answer.body["detail"]
        .as_str()
        .unwrap_or_default()
        .to_owned()
}

impl Api {
    async fn rivets(&self) {
        let spec = json!({ "kind": "rivets", "form": { "form": "heads", "first_mm": "46 3/4", "pitch_mm": "48", "columns": 5,
            "first_head_mm": "4", "head_pitch_mm": "6", "heads": 13, "head_mm": "1/2" } });
        let answer = self
            .post(
                &format!("/api/sides/{}/features", self.shop.side),
                json!({ "id": Uuid::now_v7(), "spec": spec }),
            )
            .await;
        assert_eq!(answer.status, 200, "{}", answer.body);
    }

    async fn here(&self) -> Value {
        self.get(&format!("/api/sides/{}", self.shop.side)).await
    }

    pub async fn undo(&self) -> Answer {
        self.post(&format!("/api/jobs/{}/undo", self.shop.job), json!({}))
            .await
    }

    pub async fn other_side(&self) -> String {
        let id = Uuid::now_v7().to_string();
        let answer = self
            .post(
                &format!("/api/jobs/{}/sides", self.shop.job),
                json!({ "id": id, "start": { "from": "mirror_of", "side": self.shop.side } }),
            )
            .await;
        assert_eq!(answer.status, 200, "{}", answer.body);
        id
    }
}

fn piece_of(side: &Value, called: &str) -> Value {
    let found = side["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["called"] == called);
    found.unwrap_or_else(|| panic!("{called}: {side}")).clone()
}

#[rocket::async_test]
async fn a_better_spot_is_found_and_several_pieces_move_in_one_go() {
    let api = Api::start().await;
    api.rivets().await;
    let one = api
        .piece(lettering("TIDEWAY", "14 1/4", "18", "27 3/4"))
        .await;
    let two = api.piece(lettering("BOOKS", "6", "18", "50")).await;
    let spots = format!("/api/sides/{}/spots", api.shop.side);
    let window = json!({ "along_mm": "3", "down_mm": "3" });
    let found = api
        .post(
            &spots,
            json!({ "pieces": [one], "window": window, "touched": [0, 96] }),
        )
        .await;
    assert_eq!(found.status, 200, "{}", found.body);
    let view = &found.body;
    assert_eq!((&view["columns"], &view["rows"]), (&json!(97), &json!(97)));
    assert_eq!(view["points"].as_array().unwrap().len(), 97 * 97);
    assert_eq!(view["touched"]["moved"], "3 forward, 3 down");
    let best = &view["best"][0];
    assert!(best["points"].as_f64().unwrap() < view["wanted"]["points"].as_f64().unwrap());
    // What the spot promises is what the plan then says.
    let side = api.here().await;
    let seen = |name: &str| {
        let piece = piece_of(&side, name);
        json!({ "id": piece["id"], "revision": piece["revision"] })
    };
    let go = format!("/api/sides/{}/pieces/move", api.shop.side);
    let body = json!({ "pieces": [seen("TIDEWAY"), seen("BOOKS")], "right_mm": best["right_mm"], "down_mm": best["down_mm"] });
    let moved = api.post(&go, body.clone()).await;
    assert_eq!(moved.status, 200, "{}", moved.body);
    let after = api.here().await;
    let landing = piece_of(&after, "TIDEWAY")["landing"].clone();
    assert_eq!(landing["heads_edge_on"], best["counts"]["edge_on"]);
    assert_eq!(landing["heads_covered"], best["counts"]["covered"]);
    // A stale revision changes neither; one undo takes both back.
    assert_eq!(api.post(&go, body).await.status, 409);
    assert_eq!(api.undo().await.status, 200);
    let back = api.here().await;
    for name in ["TIDEWAY", "BOOKS"] {
        assert_eq!(piece_of(&back, name)["spec"], piece_of(&side, name)["spec"]);
    }
    // Nonsense gets a sentence.
    for (body, says) in [
        (
            json!({ "pieces": [one], "window": { "along_mm": "20", "down_mm": "3" } }),
            "smaller window",
        ),
        (json!({ "pieces": [], "window": window }), "piece"),
        (
            json!({ "pieces": [Uuid::now_v7()], "window": window }),
            "piece",
        ),
    ] {
        let answer = api.post(&spots, body).await;
        assert!(
            answer.status >= 400 && detail(&answer).contains(says),
            "{}",
            answer.body
        );
    }
    let off =
        json!({ "pieces": [{ "id": two, "revision": 1 }], "right_mm": -90_000, "down_mm": 0 });
    assert!(detail(&api.post(&go, off).await).contains("off the side"));
}

#[rocket::async_test]
async fn a_kit_is_read_cleaned_added_and_undone_in_one_go() {
    let api = Api::start().await;
    let path = format!(
        "/api/sides/{}/kit-file?unit=millimetre&name=wave",
        api.shop.side
    );
    let svg = br#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 900 400">
        <path d="M0 0L500 0L500 300L0 300ZM100 100L200 100L200 200L100 200Z"/><path d="M600 0L800 200L600 200L800 0Z"/></svg>"#;
    let kit = api.raw(&path, svg).await;
    assert_eq!(kit.status, 200, "{}", kit.body);
    let pieces = kit.body["pieces"].as_array().unwrap();
    // A rectangle with a hole, and both halves of the crossed one.
    assert_eq!(pieces.len(), 3);
    assert_eq!(
        pieces[0]["piece"]["art"]["outlines"]
            .as_array()
            .unwrap()
            .len(),
        2
    );
    assert!(
        pieces[0]["cleaned"][0]
            .as_str()
            .unwrap()
            .contains("crossed itself"),
        "{}",
        pieces[0]["cleaned"]
    );
    assert_eq!(pieces[2]["piece"]["order"], 3);
    let whole = api.raw(&format!("{path}&whole=true"), svg).await;
    assert_eq!(whole.body["pieces"].as_array().unwrap().len(), 1);
    for (bytes, says) in [
        (b"hello".as_slice(), "neither SVG nor DXF"),
        (
            b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L10 10'/></svg>".as_slice(),
            "lines do not meet",
        ),
    ] {
        let answer = api.raw(&path, bytes).await;
        assert!(
            answer.status == 422 && detail(&answer).contains(says),
            "{}",
            answer.body
        );
    }
    let several = format!("/api/sides/{}/pieces/several", api.shop.side);
    let new: Vec<Value> = pieces
        .iter()
        .map(|p| json!({ "id": Uuid::now_v7(), "spec": p["piece"] }))
        .collect();
    assert_eq!(
        api.post(&several, json!({ "pieces": new })).await.status,
        200
    );
    assert_eq!(api.here().await["pieces"].as_array().unwrap().len(), 3);
    api.undo().await;
    assert!(api.here().await["pieces"].as_array().unwrap().is_empty());
    let many: Vec<Value> = (0..61)
        .map(|_| json!({ "id": Uuid::now_v7(), "spec": pieces[0]["piece"] }))
        .collect();
    assert!(detail(&api.post(&several, json!({ "pieces": many })).await).contains("is the most"));
}

/// An emblem as it is drawn: a red ring whose middle is faked with white, a yellow square in that, a plain black bar
/// with a bare line round it, a run of colours, a bare line by itself.
const EMBLEM: &[u8] = br##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 900 400">
    <defs><linearGradient id="g"><stop stop-color="#ff0000"/><stop offset="1" stop-color="#0000ff"/></linearGradient></defs>
    <path fill="#e30613" d="M0 0H400V400H0Z"/><path style="fill:#FFFFFF" d="M100 100H300V300H100Z"/>
    <path fill="#ffd400" d="M120 120H170V170H120Z"/><path d="M500 0H700V50H500Z"/><path fill="none" stroke="#ff00ff" d="M500 0H700V50H500Z"/>
    <path fill="url(#g)" d="M500 200H600V240H500Z"/><path fill="none" stroke="#123456" d="M700 200H800V230H700Z"/></svg>"##;

#[rocket::async_test]
async fn a_kits_pieces_are_laid_out_in_the_films_nearest_to_their_colours() {
    let api = Api::start().await;
    let path = format!("/api/sides/{}/kit-file?unit=millimetre", api.shop.side);
    let read = |more: &'static str| {
        let (api, path) = (&api, &path);
        async move {
            let kit = api.raw(&format!("{path}{more}"), EMBLEM).await;
            assert_eq!(kit.status, 200, "{}", kit.body);
            kit.body
        }
    };
    let films = |kit: &Value| -> Vec<(Value, Value, Value)> {
        let pieces = kit["pieces"].as_array().unwrap().iter();
        let film = |p: &Value| {
            let [_, _, w, h] = [0, 1, 2, 3].map(|n| p["bounds"][n].as_f64().unwrap().round());
            (
                p["drawn"].clone(),
                p["piece"]["art"]["colour"].clone(),
                json!([w, h]),
            )
        };
        pieces.map(film).collect()
    };
    // Film on film: the red lies whole under white and yellow. A run of colours is its first, the line round the bar no second piece.
    let kit = read("").await;
    assert_eq!(
        films(&kit),
        [
            (json!("#e30613"), json!("#8c1d18"), json!([400.0, 400.0])),
            (json!("#ffffff"), json!("#f4f1e6"), json!([200.0, 200.0])),
            (json!("#000000"), json!("#1a1a1a"), json!([200.0, 50.0])),
            (json!("#ff0000"), json!("#8c1d18"), json!([100.0, 40.0])),
            (Value::Null, json!("#14524d"), json!([100.0, 30.0])),
            (json!("#ffd400"), json!("#b8860b"), json!([50.0, 50.0])),
        ]
    );
    let area = |kit: &Value, n: usize| {
        kit["pieces"][n]["piece"]["art"]["outlines"]
            .as_array()
            .unwrap()
            .len()
    };
    assert_eq!(area(&kit, 0), 1);
    let told = |kit: &Value, n: usize| kit["colours"][n]["sentence"].as_str().unwrap().to_owned();
    assert_eq!(
        told(&kit, 0),
        "signal red, the nearest usual colour. No film of this shop has it."
    );
    assert!(told(&kit, 4).contains("gives it no colour"));
    // The white is no film: the red gets its hole, and what is drawn over the hole stays.
    let kit = read("&holes=%23FFFFFF").await;
    assert_eq!((films(&kit).len(), area(&kit, 0)), (5, 2));
    let hole = &kit["colours"][5];
    assert_eq!(
        (&hole["drawn"], &hole["pieces"]),
        (&json!("#ffffff"), &json!(0))
    );
    assert_eq!(hole["colour"], Value::Null);
    // As one piece it is of its largest colour.
    let kit = read("&whole=true").await;
    assert_eq!(films(&kit)[0].1, json!("#8c1d18"));
    let one = br##"<svg xmlns="http://www.w3.org/2000/svg"><path fill="#e30613" d="M0 0H400V400H0Z"/></svg>"##;
    let none = api.raw(&format!("{path}&holes=%23e30613"), one).await;
    assert_eq!(none.status, 422);
    assert!(detail(&none).contains("Nothing of the file is film then"));
    let bad = api.raw(&format!("{path}&holes=white"), EMBLEM).await;
    assert!(bad.status == 422 && detail(&bad).contains("as # and six figures"));
    // A film of this yellow on the shelf is nearer than gold, and both say so to who chooses a colour.
    let yellow =
        json!({ "name": "gorse", "class": "cut_lettering", "colour": "#FFD200", "sheet": {} });
    let shelved = api
        .post(
            "/api/films",
            json!({ "id": Uuid::now_v7(), "film": yellow }),
        )
        .await;
    assert_eq!(shelved.status, 200, "{}", shelved.body);
    // A strip for marking never is, however near it lies.
    let strip = json!({ "name": "red strip", "class": "conspicuity_strip", "colour": "#e30613", "sheet": {} });
    let shelved = api
        .post("/api/films", json!({ "id": Uuid::now_v7(), "film": strip }))
        .await;
    assert_eq!(shelved.status, 200, "{}", shelved.body);
    let kit = read("").await;
    assert_eq!(
        told(&kit, 0),
        "signal red, the nearest usual colour. No film of this shop has it."
    );
    assert_eq!(films(&kit)[5].1, json!("#ffd200"));
    assert_eq!(told(&kit, 5), "gorse, the nearest of this shop’s films.");
    let colours = api.get("/api/shop").await["film_colours"].clone();
    assert!(
        colours
            .as_array()
            .unwrap()
            .contains(&json!({ "value": "#ffd200", "name": "gorse", "own": true }))
    );
}

#[rocket::async_test]
async fn pieces_are_mirrored_stay_tied_and_both_sides_are_compared() {
    let api = Api::start().await;
    let id = api.piece(lettering("HAVEN", "12", "18", "24")).await;
    let path = format!("/api/sides/{}/pieces/mirror", api.shop.side);
    assert!(detail(&api.post(&path, json!({})).await).contains("no side that mirrors"));
    let there = api.other_side().await;
    assert_eq!(api.post(&path, json!({})).await.status, 200);
    assert!(detail(&api.post(&path, json!({})).await).contains("on the other side already"));
    let twin = || async { piece_of(&api.get(&format!("/api/sides/{there}")).await, "HAVEN") };
    let first = twin().await;
    assert_eq!(
        first["readings"]["last_letter"]["text"], "18",
        "the last letter is as far from the front as the first one here"
    );
    // The first moves, its mirror follows.
    let mut spec = piece_of(&api.here().await, "HAVEN")["spec"].clone();
    spec["place"]["along"]["distance_mm"] = json!("30");
    assert_eq!(
        api.put(&format!("/api/pieces/{id}"), 1, spec).await.status,
        200
    );
    assert_eq!(twin().await["readings"]["last_letter"]["text"], "30");
    let story = api
        .get(&format!("/api/sides/{}/story", api.shop.side))
        .await;
    assert_eq!(story["both"][0]["trouble"], Value::Null);
    assert_eq!(story["stories"][0]["marks"].as_array().unwrap().len(), 6);
    for query in ["paper=letter&strip=true", "paper=a4&strip=false"] {
        let sheet = api
            .call(
                "GET",
                &format!("/api/sides/{}/story.pdf?{query}", api.shop.side),
                Value::Null,
                &[],
            )
            .await;
        assert_eq!((sheet.status, sheet.kind), (200, Some(ContentType::PDF)));
    }
}

#[rocket::async_test]
async fn regulated_marks_and_stripes_over_several_parts() {
    let api = Api::start().await;
    let mark = |regulation: &str, words: &str| {
        let body = json!({ "regulation": regulation, "words": words });
        let path = format!("/api/sides/{}/regulated", api.shop.side);
        let api = &api;
        async move { api.post(&path, body).await }
    };
    assert!(detail(&mark("boat_number", "  ").await).contains("Type what the mark says"));
    let spec = mark("carrier_mark", "HARBOUR BAY FREIGHT\nUSDOT 0000000")
        .await
        .body;
    api.piece(spec).await;
    let side = api.here().await;
    let findings = side["pieces"][0]["findings"].as_array().unwrap();
    // Nothing is known of the body's colour and there is no other side: said, not guessed.
    let cannot = findings
        .iter()
        .filter(|f| f["kept"] == "cannot_tell")
        .count();
    assert_eq!(
        (cannot, findings.iter().any(|f| f["kept"] == "no")),
        (2, false),
        "{findings:#?}"
    );

    let there = api.other_side().await;
    let stripe = json!({ "name": "run", "bands": [{ "gap_mm": 0, "front_width_mm": "3", "rear_width_mm": "3" }], "colour": "#8c1d18",
        "length_mm": "6'", "parted": true, "margin_mm": "1/8", "clearance_mm": "1/4", "wrap_mm": 0 });
    let run = |sides: Value| {
        let body = json!({ "sides": sides, "first_drop_mm": "60", "last_drop_mm": "66", "end_gap_mm": "2", "stripe": stripe });
        let path = format!("/api/jobs/{}/stripe-run", api.shop.job);
        let api = &api;
        async move { api.post(&path, body).await }
    };
    assert!(detail(&run(json!([there])).await).contains("at least two"));
    assert_eq!(run(json!([api.shop.side, there])).await.status, 200);
    // Half way down the run it lies half way: where the first part ends and the second begins.
    let middle_of = |side: &Value, end: &str| piece_of(side, "run")["spec"]["place"][end].clone();
    let near = |value: &Value, inches: f64| (value.as_f64().unwrap() / 25.4 - inches).abs() < 0.03;
    let (a, b) = (
        api.here().await,
        api.get(&format!("/api/sides/{there}")).await,
    );
    assert!(
        near(&middle_of(&a, "down")["distance_mm"], 60.0)
            && near(&middle_of(&a, "angle")["rear_drop_mm"], 63.0),
        "{a}"
    );
    assert!(
        near(&middle_of(&b, "down")["distance_mm"], 63.0)
            && near(&middle_of(&b, "angle")["rear_drop_mm"], 66.0)
    );
    api.undo().await;
    assert_eq!(
        api.here().await["pieces"].as_array().unwrap().len(),
        1,
        "one undo takes the whole run back"
    );
}

#[rocket::async_test]
async fn the_shops_figures_and_typefaces_are_the_leads_and_checked() {
    let mut api = Api::start().await;
    let mut settings = api.get("/api/shop").await["settings"].clone();
    settings["weights"]["edge_on_head"] = json!(35.0);
    let put = |settings: Value| {
        let api = &api;
        async move {
            let seen = api.get("/api/shop").await["settings_revision"].to_string();
            let seen = [("If-Match", format!("\"{seen}\""))];
            api.call("PUT", "/api/shop/settings", settings, &seen).await
        }
    };
    assert_eq!(put(settings.clone()).await.status, 200);
    // Whoever saw the settings before that is told, and overwrites nothing.
    let stale = [("If-Match", "\"1\"".to_owned())];
    let mut old = settings.clone();
    old["thinnest_stroke_mm"] = json!(2.0);
    let answer = api.call("PUT", "/api/shop/settings", old, &stale).await;
    assert_eq!(
        (answer.status, answer.body["code"].as_str()),
        (409, Some("stale"))
    );
    assert_eq!(
        api.get("/api/shop").await["settings"]["weights"]["edge_on_head"],
        35.0
    );
    settings["weights"]["edge_on_head"] = json!(-1.0);
    assert!(detail(&put(settings.clone()).await).contains("between 0 and 1000"));
    settings["weights"]["edge_on_head"] = json!(20.0);
    settings["thinnest_stroke_mm"] = json!(900.0);
    assert!(detail(&put(settings).await).contains("thinnest stroke"));

    let file = include_bytes!("../../core/fonts/bitter.ttf");
    let added = api.raw("/api/shop/typefaces?name=Knot", file).await;
    assert_eq!(added.status, 200, "{}", added.body);
    let own = added.body["id"].as_str().unwrap().to_owned();
    assert!(
        detail(
            &api.raw("/api/shop/typefaces?name=Bad", b"OTTO nonsense")
                .await
        )
        .contains(".ttf or .otf")
    );
    assert!(
        detail(&api.raw("/api/shop/typefaces?name=%20", file).await)
            .contains("what the typeface is called")
    );
    let mut spec = lettering("KNOT", "8", "18", "24");
    spec["art"]["typeface"] = json!(own);
    api.piece(spec).await;
    let offered = |shop: &Value| {
        shop["typefaces"]
            .as_array()
            .unwrap()
            .iter()
            .any(|t| t["id"] == own)
    };
    assert!(offered(&api.get("/api/shop").await));

    // A fitter may add typefaces, not take them away or change the figures; a viewer may do neither.
    let key = own.trim_start_matches("own-").to_owned();
    api.who = api.shop.crew[1];
    let gone = api
        .call(
            "DELETE",
            &format!("/api/shop/typefaces/{key}"),
            Value::Null,
            &[],
        )
        .await;
    assert!(gone.status == 403 && detail(&gone).contains("Ask the lead"));
    api.who = api.shop.crew[2];
    assert_eq!(
        api.raw("/api/shop/typefaces?name=Mine", file).await.status,
        403
    );
    api.who = api.shop.crew[0];
    let gone = api
        .call(
            "DELETE",
            &format!("/api/shop/typefaces/{key}"),
            Value::Null,
            &[],
        )
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    assert!(!offered(&api.get("/api/shop").await), "no longer offered");
    assert_eq!(
        api.here().await["pieces"].as_array().unwrap().len(),
        1,
        "what is cut in it stays"
    );
}

#[rocket::async_test]
async fn a_shadow_is_a_piece_of_work_of_its_own_and_goes_with_its_lettering() {
    let api = Api::start().await;
    let mut spec = lettering("HAVEN", "8", "18", "24");
    spec["art"]["shadow"] = json!({ "right_mm": "1/2", "down_mm": "1/2", "colour": "#1a1a1a" });
    let face = api.piece(spec).await;
    let names = |view: &Value| -> Vec<String> {
        let pieces = view["pieces"].as_array().unwrap();
        pieces
            .iter()
            .map(|p| p["called"].as_str().unwrap().to_owned())
            .collect()
    };
    let here = api.here().await;
    assert_eq!(names(&here), ["HAVEN", "HAVEN, shadow"]);
    let shadow = piece_of(&here, "HAVEN, shadow")["id"]
        .as_str()
        .unwrap()
        .to_owned();
    assert_eq!(
        here["going_on"][0],
        json!(shadow),
        "what lies under goes on first"
    );
    let flat = |view: &Value, called: &str| {
        piece_of(view, called)["readings"]["flats"]["front"]["wanted"]["text"].clone()
    };
    assert_eq!(
        (flat(&here, "HAVEN"), flat(&here, "HAVEN, shadow")),
        (json!("24"), json!("24 1/2"))
    );
    // It is levelled and locked by itself.
    let read = api.read_ends(&shadow, "24 1/2", "24 1/2").await;
    assert_eq!(read.body["advice"]["do"], "lock", "{}", read.body);

    // Other words and another place: the shadow follows in the same edit, its own work stays.
    let revision =
        |view: &Value, called: &str| piece_of(view, called)["revision"].as_i64().unwrap();
    let mut own = piece_of(&here, "HAVEN, shadow")["spec"].clone();
    own["work"]["crew"] = json!(2);
    own["art"]["text"] = json!("ELSEWHERE");
    own["order"] = json!(7);
    // It goes nowhere alone.
    let body =
        json!({ "pieces": [{ "id": shadow, "revision": 1 }], "right_mm": "1", "down_mm": 0 });
    let alone = api
        .post(&format!("/api/sides/{}/pieces/move", api.shop.side), body)
        .await;
    assert!(
        detail(&alone).contains("goes with its lettering"),
        "{}",
        alone.body
    );
    let path = format!("/api/pieces/{shadow}");
    assert_eq!(
        api.put(&path, revision(&here, "HAVEN, shadow"), own)
            .await
            .status,
        200
    );
    let mut changed = piece_of(&here, "HAVEN")["spec"].clone();
    changed["art"]["text"] = json!("HARBOUR");
    let put = api
        .put(&format!("/api/pieces/{face}"), 1, changed.clone())
        .await;
    assert_eq!(put.status, 200, "{}", put.body);
    let here = api.here().await;
    assert_eq!(names(&here), ["HARBOUR", "HARBOUR, shadow"]);
    assert_eq!(
        piece_of(&here, "HARBOUR, shadow")["spec"]["work"]["crew"],
        2
    );
    api.undo().await;
    assert_eq!(names(&api.here().await), ["HAVEN", "HAVEN, shadow"]);

    // It is not removed alone; without a shadow, or with its lettering, it is.
    let here = api.here().await;
    let seen = [(
        "If-Match",
        format!("\"{}\"", revision(&here, "HAVEN, shadow")),
    )];
    let refused = api.call("DELETE", &path, Value::Null, &seen).await;
    assert!(
        detail(&refused).contains("Take it off there"),
        "{}",
        refused.body
    );
    let mut plain = piece_of(&here, "HAVEN")["spec"].clone();
    plain["art"]["shadow"] = Value::Null;
    let put = api
        .put(
            &format!("/api/pieces/{face}"),
            revision(&here, "HAVEN"),
            plain,
        )
        .await;
    assert_eq!(put.status, 200, "{}", put.body);
    assert_eq!(names(&api.here().await), ["HAVEN"]);
    api.undo().await;
    let here = api.here().await;
    let seen = [("If-Match", format!("\"{}\"", revision(&here, "HAVEN")))];
    let gone = api
        .call("DELETE", &format!("/api/pieces/{face}"), Value::Null, &seen)
        .await;
    assert_eq!(gone.status, 200, "{}", gone.body);
    assert_eq!(api.here().await["pieces"], json!([]));
    api.undo().await;
    assert_eq!(names(&api.here().await), ["HAVEN", "HAVEN, shadow"]);
}
