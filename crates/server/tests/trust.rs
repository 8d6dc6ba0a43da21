//! What people rely on, by the API on a real PostgreSQL: locks stand on what was read, plans stay as issued, what cannot be read is
//! shown and holds nothing up, repeats change nothing, and who may ask in which form.

use crate::common::{Answer, Api, lettering};
use rocket::http::{ContentType, Header};
use sea_orm::{ConnectionTrait, Database};
use serde_json::{Value, json};
use uuid::Uuid;

async fn side(api: &Api, id: &str) -> Value {
    api.get(&format!("/api/sides/{id}")).await
}

async fn piece_of(api: &Api, side_id: &str, id: &str) -> Value {
    let side = side(api, side_id).await;
    side["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["id"] == id)
        .cloned()
        .unwrap_or_default()
}

/// Reads both ends as wanted and locks.
async fn locked(api: &Api, side_id: &str, id: &str) {
    let piece = piece_of(api, side_id, id).await;
    let wanted = |end: &str| {
        piece["readings"]["flats"][end]["wanted"]["text"]
            .as_str()
            .unwrap()
            .to_owned()
    };
    let read = api.read_ends(id, &wanted("front"), &wanted("rear")).await;
    assert_eq!(read.status, 200, "{}", read.body);
    let lock = api
        .post(
            &format!("/api/pieces/{id}/lock"),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(lock.status, 200, "{}", lock.body);
    assert_eq!(piece_of(api, side_id, id).await["locked"], true);
}

/// The side that mirrors the shop's first, with everything on it laid out there too. Answers the side and the twin.
async fn twin_of(api: &Api) -> (String, String) {
    let other = Uuid::now_v7();
    let start = json!({ "id": other, "start": { "from": "mirror_of", "side": api.shop.side } });
    let added = api
        .post(&format!("/api/jobs/{}/sides", api.shop.job), start)
        .await;
    assert_eq!(added.status, 200, "{}", added.body);
    let mirrored = api
        .post(
            &format!("/api/sides/{}/pieces/mirror", api.shop.side),
            json!({ "pieces": [] }),
        )
        .await;
    assert_eq!(mirrored.status, 200, "{}", mirrored.body);
    (
        other.to_string(),
        mirrored.body["id"].as_str().unwrap().to_owned(),
    )
}

/// Puts this in the place of the row as it was read.
async fn edited(api: &Api, path: &str, row: &Value, spec: Value) {
    let done = api.put(path, row["revision"].as_i64().unwrap(), spec).await;
    assert_eq!(done.status, 200, "{}", done.body);
}

async fn moved(api: &Api, id: &str, back: &str, down: &str) {
    let at = api.shop.side.to_string();
    let piece = piece_of(api, &at, id).await;
    let spec = lettering(piece["called"].as_str().unwrap(), "12", back, down);
    edited(api, &format!("/api/pieces/{id}"), &piece, spec).await;
}

#[rocket::async_test]
async fn a_lock_is_opened_by_whatever_moves_the_piece_and_by_nothing_else() {
    let mut api = Api::start().await;
    let at = api.shop.side.to_string();
    let first = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let (other, twin) = twin_of(&api).await;
    locked(&api, &at, &first).await;
    locked(&api, &other, &twin).await;
    // An edit of the piece that moves nothing leaves the lock alone.
    let piece = piece_of(&api, &at, &first).await;
    let mut spec = piece["spec"].clone();
    spec["work"]["celsius"] = json!(12.0);
    edited(&api, &format!("/api/pieces/{first}"), &piece, spec).await;
    assert_eq!(piece_of(&api, &at, &first).await["locked"], true);
    // The original is moved by 4 in: its twin moves too, and both locks are open, with a word.
    moved(&api, &first, "48", "31 3/4").await;
    for (side_id, id) in [(&at, &first), (&other, &twin)] {
        let piece = piece_of(&api, side_id, id).await;
        assert_eq!(
            (&piece["locked"], &piece["lock_lost"]),
            (&json!(false), &json!(true))
        );
        assert_eq!(piece["moved"]["how"], "4 down");
        assert!(
            piece["troubles"][0]
                .as_str()
                .unwrap()
                .contains("locked at 27 3/4"),
            "{}",
            piece["troubles"]
        );
        let hinge = api.get(&format!("/api/pieces/{id}/hinge")).await;
        assert_eq!(
            (&hinge["locked"], &hinge["moved"]["how"]),
            (&json!(false), &json!("4 down"))
        );
        assert_eq!(
            hinge["rounds"],
            json!([]),
            "what was read before says nothing about where it hangs now"
        );
    }
    // Back where it was: it hangs as it was read again.
    api.call(
        "POST",
        &format!("/api/jobs/{}/undo", api.shop.job),
        Value::Null,
        &[],
    )
    .await;
    assert_eq!(piece_of(&api, &other, &twin).await["locked"], true);
    // The side: a rail that falls moves what hangs level with it.
    let whole = side(&api, &at).await;
    let mut spec = whole["spec"].clone();
    spec["body"]["fall_mm"] = json!(20.0);
    edited(&api, &format!("/api/sides/{at}"), &whole, spec).await;
    assert_eq!(piece_of(&api, &at, &first).await["locked"], false);
    api.call(
        "POST",
        &format!("/api/jobs/{}/undo", api.shop.job),
        Value::Null,
        &[],
    )
    .await;
    assert_eq!(piece_of(&api, &at, &first).await["locked"], true);
    // A reference that its rule hangs on.
    api.who = api.shop.crew[1];
    let seam = json!({ "id": Uuid::now_v7(), "spec": { "kind": "panel_seam", "form": { "form": "upright", "first_mm": "30", "pitch_mm": "4'", "count": 2 } } });
    assert_eq!(
        api.post(&format!("/api/sides/{at}/features"), seam)
            .await
            .status,
        200
    );
    assert_eq!(
        piece_of(&api, &at, &first).await["locked"],
        true,
        "what it does not hang on does not move it"
    );
}

#[rocket::async_test]
async fn what_lies_stays_where_it_lies() {
    let api = Api::start().await;
    let at = api.shop.side.to_string();
    let first = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let laid = json!({ "id": Uuid::now_v7(), "note": { "what": "laid", "strokes": 9, "why": "hung by the eye" } });
    assert_eq!(
        api.post(&format!("/api/pieces/{first}/floor"), laid)
            .await
            .status,
        200
    );
    let before = piece_of(&api, &at, &first).await;
    assert_eq!(
        (&before["laid"], &before["moved"]),
        (&json!(true), &Value::Null)
    );
    moved(&api, &first, "40", "27 3/4").await;
    let after = piece_of(&api, &at, &first).await;
    assert_eq!(after["moved"]["how"], "8 to the front");
    assert!(
        after["troubles"][0]
            .as_str()
            .unwrap()
            .contains("It lies where the tape read 27 3/4"),
        "{}",
        after["troubles"]
    );
    let (x0, y0) = (
        before["bounds"][0].as_f64().unwrap(),
        before["bounds"][1].as_f64().unwrap(),
    );
    let corner = &after["moved"]["corners_then"][0];
    assert!(
        (corner[0].as_f64().unwrap() - x0).abs() < 0.01
            && (corner[1].as_f64().unwrap() - y0).abs() < 0.01
    );
}

#[rocket::async_test]
async fn readings_keep_their_person_their_hour_and_what_was_asked_for() {
    let mut api = Api::start().await;
    let at = api.shop.side.to_string();
    let first = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let asked = piece_of(&api, &at, &first).await["readings"]["flats"].clone();
    let asked = [
        asked["front"]["wanted"]["mm"].as_f64().unwrap(),
        asked["rear"]["wanted"]["mm"].as_f64().unwrap(),
    ];
    // Odd reads without a signal; meanwhile the lead moves the piece; then Odd's reading arrives.
    moved(&api, &first, "48", "31 3/4").await;
    api.who = api.shop.crew[1];
    let reading = |id: Uuid| json!({ "id": id, "front_mm": "27 3/4", "rear_mm": "27 3/4", "asked_mm": asked });
    let headers = [("Read-At", "2026-11-25T08:15:00Z".to_owned())];
    let id = Uuid::now_v7();
    let path = format!("/api/pieces/{first}/readings");
    let late = api.call("POST", &path, reading(id), &headers).await;
    assert_eq!(
        (late.status, &late.body["round"], &late.body["advice"]),
        (200, &json!(0), &Value::Null),
        "{}",
        late.body
    );
    assert!(
        late.body["sentence"]
            .as_str()
            .unwrap()
            .contains("27 3/4 and 27 3/4 were wanted then, 31 3/4")
    );
    let again = api.call("POST", &path, reading(id), &headers).await;
    assert_eq!(again.body, late.body, "sent again it is the same");
    let hinge = api.get(&format!("/api/pieces/{first}/hinge")).await;
    assert_eq!(hinge["rounds"], json!([]), "it judges nothing");
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    let entry = &record["entries"].as_array().unwrap().last().unwrap();
    assert_eq!(entry["who"], "Odd");
    assert!(
        entry["at"]
            .as_str()
            .unwrap()
            .contains("(read 25 Nov 2026 08:15)"),
        "{}",
        entry["at"]
    );
    // The lead removes it; what is read of it still counts as read, and both are told.
    api.who = api.shop.crew[0];
    let revision = piece_of(&api, &at, &first).await["revision"]
        .as_i64()
        .unwrap();
    let gone = api
        .call(
            "DELETE",
            &format!("/api/pieces/{first}"),
            Value::Null,
            &[("If-Match", revision.to_string())],
        )
        .await;
    assert_eq!(gone.status, 200);
    api.who = api.shop.crew[1];
    let kept = api
        .call("POST", &path, reading(Uuid::now_v7()), &headers)
        .await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    assert!(
        kept.body["sentence"]
            .as_str()
            .unwrap()
            .contains("removed by Maren"),
        "{}",
        kept.body
    );
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    assert!(
        record["entries"].as_array().unwrap().last().unwrap()["what"]
            .as_str()
            .unwrap()
            .contains("removed by Maren")
    );
    // A piece that never was is another thing.
    let never = format!("/api/pieces/{}/readings", Uuid::now_v7());
    assert_eq!(
        api.call("POST", &never, reading(Uuid::now_v7()), &[])
            .await
            .status,
        404
    );
}

#[rocket::async_test]
async fn what_others_hang_on_is_not_removed_without_a_word() {
    let api = Api::start().await;
    let at = api.shop.side.to_string();
    let first = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let (_, twin) = twin_of(&api).await;
    let seen = [(
        "If-Match",
        piece_of(&api, &at, &first).await["revision"].to_string(),
    )];
    let path = format!("/api/pieces/{first}");
    let asked = api.call("DELETE", &path, Value::Null, &seen).await;
    assert_eq!(
        (asked.status, asked.body["code"].as_str()),
        (409, Some("in_use"))
    );
    assert!(
        asked.body["detail"]
            .as_str()
            .unwrap()
            .contains("hangs on this"),
        "{}",
        asked.body
    );
    let gone = api
        .call("DELETE", &format!("{path}?anyway=true"), Value::Null, &seen)
        .await;
    assert_eq!((gone.status, &gone.body["spec"]), (200, &Value::Null));
    // Its twin is still there, and says what it misses.
    let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    assert_eq!(
        job["sides"]
            .as_array()
            .unwrap()
            .iter()
            .map(|s| s["pieces"].as_u64().unwrap())
            .sum::<u64>(),
        1,
        "{twin}"
    );
}

#[rocket::async_test]
async fn a_repeat_of_any_change_answers_with_what_is_there() {
    let api = Api::start().await;
    let at = api.shop.side.to_string();
    let twice =
        async |method: &str, path: &str, body: Value, more: &[(&'static str, String)]| -> Answer {
            let mut headers = vec![("Edit-Id", Uuid::now_v7().to_string())];
            headers.extend_from_slice(more);
            let first = api.call(method, path, body.clone(), &headers).await;
            assert_eq!(first.status, 200, "{method} {path}: {}", first.body);
            let again = api.call(method, path, body, &headers).await;
            assert_eq!(
                (again.status, &again.body),
                (200, &first.body),
                "{method} {path}"
            );
            first
        };
    let new =
        |text: &str| json!({ "id": Uuid::now_v7(), "spec": lettering(text, "12", "48", "27 3/4") });
    let added = twice("POST", &format!("/api/sides/{at}/pieces"), new("TERN"), &[]).await;
    let several = json!({ "pieces": [new("ONE"), new("TWO")] });
    twice(
        "POST",
        &format!("/api/sides/{at}/pieces/several"),
        several,
        &[],
    )
    .await;
    let start = json!({ "id": Uuid::now_v7(), "start": { "from": "mirror_of", "side": at } });
    twice(
        "POST",
        &format!("/api/jobs/{}/sides", api.shop.job),
        start,
        &[],
    )
    .await;
    twice(
        "POST",
        &format!("/api/sides/{at}/pieces/mirror"),
        json!({ "pieces": [] }),
        &[],
    )
    .await;
    let id = added.body["id"].as_str().unwrap();
    let seen = [("If-Match", "1".to_owned())];
    twice(
        "DELETE",
        &format!("/api/pieces/{id}?anyway=true"),
        Value::Null,
        &seen,
    )
    .await;
    let undo = format!("/api/jobs/{}/undo", api.shop.job);
    twice("POST", &undo, Value::Null, &[]).await;
    assert_eq!(
        side(&api, &at).await["pieces"].as_array().unwrap().len(),
        3,
        "one press took back one edit"
    );
    let job = json!({ "id": Uuid::now_v7(), "customer": "Skerry", "vehicle_kind": "panel_van", "unit": "millimetre" });
    twice("POST", "/api/jobs", job, &[]).await;
    let plan = json!({ "id": Uuid::now_v7() });
    twice(
        "POST",
        &format!("/api/jobs/{}/plans", api.shop.job),
        plan,
        &[],
    )
    .await;
    // A typeface under its own key.
    let path = format!("/api/shop/typefaces?name=Ours&id={}", Uuid::now_v7());
    let font = include_bytes!("../../core/fonts/oswald.ttf");
    assert_eq!(api.raw(&path, font).await.status, 200);
    assert_eq!(api.raw(&path, font).await.status, 200);
    assert_eq!(
        api.raw(&path, include_bytes!("../../core/fonts/bitter.ttf"))
            .await
            .status,
        409
    );
    let own = api.get("/api/shop").await["typefaces"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|t| t["name"] == "Ours")
        .count();
    assert_eq!(own, 1);
    // A photo's key stands for one picture.
    let photo = format!("/api/jobs/{}/photos?photo={}", api.shop.job, Uuid::now_v7());
    let (red, blue) = (picture(200), picture(20));
    assert_eq!(api.raw(&photo, &red).await.status, 200);
    assert_eq!(api.raw(&photo, &red).await.status, 200);
    let other = api.raw(&photo, &blue).await;
    assert_eq!(
        (other.status, other.body["code"].as_str()),
        (409, Some("id_taken"))
    );
}

fn picture(red: u8) -> Vec<u8> {
    let mut bytes = Vec::new();
    let picture = image::RgbImage::from_pixel(12, 8, image::Rgb([red, 90, 30]));
    picture
        .write_to(
            &mut std::io::Cursor::new(&mut bytes),
            image::ImageFormat::Png,
        )
        .unwrap();
    bytes
}

/// An entry of one job is not struck from another one.
#[rocket::async_test]
async fn a_striking_entry_belongs_to_its_own_job() {
    let api = Api::start().await;
    let doubt = Uuid::now_v7();
    let entry = json!({ "id": doubt, "entry": { "what": "paint_doubt", "side": api.shop.side, "note": "dull" } });
    assert_eq!(
        api.post(&format!("/api/jobs/{}/walk-round", api.shop.job), entry)
            .await
            .status,
        200
    );
    let other = Uuid::now_v7();
    let job = json!({ "id": other, "customer": "Skerry", "vehicle_kind": "panel_van", "unit": "millimetre" });
    assert_eq!(api.post("/api/jobs", job).await.status, 200);
    let strike = |id: Uuid| json!({ "id": id, "entry": { "what": "struck", "entry": doubt, "note": "not so" } });
    assert_eq!(
        api.post(
            &format!("/api/jobs/{other}/walk-round"),
            strike(Uuid::now_v7())
        )
        .await
        .status,
        404
    );
    let own = Uuid::now_v7();
    let path = format!("/api/jobs/{}/walk-round", api.shop.job);
    assert_eq!(api.post(&path, strike(own)).await.body["struck"], 1);
    assert_eq!(api.post(&path, strike(own)).await.body["struck"], 1);
}

async fn packet(api: &Api, plan: &str, paper: &str) -> String {
    let text = api
        .pdf(&format!("/api/plans/{plan}/packet.pdf?paper={paper}"))
        .await;
    // The hour of printing is what may differ.
    let dated = |line: &&str| !line.contains("Printed ");
    text.lines().filter(dated).collect::<Vec<_>>().join("\n")
}

#[rocket::async_test]
async fn an_issued_plan_prints_the_same_whatever_is_changed_afterwards() {
    let api = Api::start().await;
    let font = include_bytes!("../../core/fonts/oswald.ttf");
    let own = api.raw("/api/shop/typefaces?name=Ours", font).await.body["id"]
        .as_str()
        .unwrap()
        .to_owned();
    let mut spec = lettering("TERN HAVEN", "12", "48", "27 3/4");
    spec["art"]["typeface"] = json!(own);
    let first = api.piece(spec).await;
    let plan = api
        .post(
            &format!("/api/jobs/{}/plans", api.shop.job),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(plan.status, 200, "{}", plan.body);
    let plan = plan.body["id"].as_str().unwrap().to_owned();
    // Who comes back later finds it, and whether it still says what is laid out.
    let listed = async || {
        let all = api.get(&format!("/api/jobs/{}/plans", api.shop.job)).await;
        let all = all.as_array().unwrap().clone();
        assert_eq!((all.len(), &all[0]["id"]), (1, &json!(plan)));
        all[0]["stands"].clone()
    };
    assert_eq!(listed().await, json!(true));
    let before = [
        packet(&api, &plan, "letter").await,
        packet(&api, &plan, "a4").await,
    ];
    assert!(
        before[0].contains("TERN HAVEN")
            && before[0].contains("27 3/4")
            && before[0].contains("street side"),
        "{}",
        before[0]
    );
    // Another unit, other words, other margins, another name of shop and job, a piece moved and a typeface gone.
    let owner = Database::connect(&api.cluster.owner_url).await.unwrap();
    for sql in [
        "UPDATE job SET unit = 'millimetre', title = 'Another', customer = 'Nobody'",
        "UPDATE shop SET name = 'Elsewhere', settings = jsonb_set(settings, '{side_words}', '\"near_off_keep_left\"')",
        "UPDATE shop SET settings = settings || '{\"carrier_margin_mm\": 80, \"tape_width_mm\": 25, \"tape_piece_mm\": 300, \"tab_length_mm\": 60, \"cut_clearance_mm\": 4}'",
        "UPDATE typeface SET file = decode('00', 'hex'), retired = true",
    ] {
        owner.execute_unprepared(sql).await.unwrap();
    }
    let revision = piece_of(&api, &api.shop.side.to_string(), &first).await["revision"]
        .as_i64()
        .unwrap();
    let moved = lettering("SKERRY", "6", "20", "40");
    assert_eq!(
        api.put(&format!("/api/pieces/{first}"), revision, moved)
            .await
            .status,
        200
    );
    let after = [
        packet(&api, &plan, "letter").await,
        packet(&api, &plan, "a4").await,
    ];
    assert_eq!(before, after);
    assert_eq!(listed().await, json!(false));
    // What was frozen is known by its hash: whoever changes it is found.
    owner
        .execute_unprepared("UPDATE plan SET snapshot = jsonb_set(snapshot, '{printed,0,pieces,0,called}', '\"GULL\"')")
        .await
        .unwrap();
    let forged = api
        .call(
            "GET",
            &format!("/api/plans/{plan}/packet.pdf"),
            Value::Null,
            &[],
        )
        .await;
    assert_eq!(
        (forged.status, forged.body["code"].as_str()),
        (500, Some("unreadable"))
    );
}

#[rocket::async_test]
async fn a_paper_tells_whether_the_record_is_still_the_one_it_was_printed_from() {
    let api = Api::start().await;
    let first = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    locked(&api, &api.shop.side.to_string(), &first).await;
    let path = format!("/api/jobs/{}/record/check", api.shop.job);
    let check = api.get(&path).await;
    let hash = check["latest"].as_str().unwrap();
    assert_eq!(
        (&check["entries"], &check["as_on_paper"]),
        (&json!(2), &Value::Null)
    );
    let paper = api
        .get(&format!("{path}?entry=2&hash={}", &hash[..20]))
        .await;
    assert_eq!(paper["as_on_paper"], true);
    assert!(
        paper["sentence"]
            .as_str()
            .unwrap()
            .contains("the paper's is among them")
    );
    let other = api.get(&format!("{path}?entry=2&hash=00ff")).await;
    assert_eq!(other["as_on_paper"], false);
}

#[rocket::async_test]
async fn what_cannot_be_read_is_shown_as_it_is_kept_and_everything_else_goes_on() {
    let api = Api::start().await;
    let at = api.shop.side.to_string();
    let good = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let odd = api.piece(lettering("GULL", "12", "48", "60")).await;
    let owner = Database::connect(&api.cluster.owner_url).await.unwrap();
    let set = async |sql: String| {
        owner.execute_unprepared(&sql).await.unwrap();
    };
    // A piece that a newer release wrote.
    set(format!("UPDATE piece SET spec = '{{\"version\": 7, \"hologram\": true}}', revision = revision + 1 WHERE id = '{odd}'")).await;
    let view = side(&api, &at).await;
    assert_eq!(
        view["pieces"]
            .as_array()
            .unwrap()
            .iter()
            .map(|p| p["id"].as_str().unwrap())
            .collect::<Vec<_>>(),
        [&good]
    );
    assert_eq!(view["unreadable"][0]["kept"]["hologram"], true);
    assert!(
        view["unreadable"][0]["why"]
            .as_str()
            .unwrap()
            .contains("newer Windrift")
    );
    let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    assert_eq!(
        (
            job["sides"].as_array().unwrap().len(),
            &job["unreadable"][0]["id"]
        ),
        (1, &json!(odd))
    );
    assert_eq!(
        api.get("/api/jobs").await["jobs"].as_array().unwrap().len(),
        1
    );
    let hang = api
        .call("GET", &format!("/api/pieces/{odd}/hang"), Value::Null, &[])
        .await;
    assert_eq!(
        (hang.status, hang.body["code"].as_str()),
        (500, Some("unreadable"))
    );
    assert_eq!(
        api.call("GET", &format!("/api/pieces/{good}/hang"), Value::Null, &[])
            .await
            .status,
        200
    );
    // No plan is issued without it in silence.
    let plan = api
        .post(
            &format!("/api/jobs/{}/plans", api.shop.job),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(plan.body["code"], "unreadable");
    // A side: the job goes on without it, and the yard too.
    set(format!("UPDATE side SET spec = '{{\"version\": 1, \"kind\": \"lid\"}}', revision = revision + 1 WHERE id = '{at}'")).await;
    let job = api.get(&format!("/api/jobs/{}", api.shop.job)).await;
    assert_eq!(
        (&job["sides"], &job["unreadable"][0]["kind"]),
        (&json!([]), &json!("side"))
    );
    // The unit: never inches instead.
    set(format!(
        "UPDATE job SET unit = 'cubit' WHERE id = '{}'",
        api.shop.job
    ))
    .await;
    let yard = api.get("/api/jobs").await;
    assert_eq!(
        (&yard["jobs"], &yard["unreadable"][0]["title"]),
        (&json!([]), &json!("Van 3"))
    );
    assert!(
        yard["unreadable"][0]["why"]
            .as_str()
            .unwrap()
            .contains("cubit")
    );
    // Settings: never the defaults instead.
    set("UPDATE shop SET settings = '{\"side_words\": \"inner_and_outer\"}'".into()).await;
    let shop = api.call("GET", "/api/shop", Value::Null, &[]).await;
    assert_eq!(
        (shop.status, shop.body["code"].as_str()),
        (500, Some("unreadable"))
    );
}

#[rocket::async_test]
async fn characters_that_nobody_sees_are_refused_at_the_door() {
    let api = Api::start().await;
    for strange in ["a\u{0}b", "a\u{8}b", "a\u{1b}[2J", "a\u{fffe}b", "\u{7f}"] {
        let new = json!({ "id": Uuid::now_v7(), "customer": strange, "vehicle_kind": "panel_van", "unit": "millimetre" });
        let refused = api.post("/api/jobs", new).await;
        assert_eq!(
            (refused.status, refused.body["code"].as_str()),
            (422, Some("unseen")),
            "{strange:?}"
        );
        let named = json!({ "id": Uuid::now_v7(), "spec": { "kind": "panel_seam", "called": strange, "form": { "form": "upright", "first_mm": "30", "pitch_mm": "4'", "count": 2 } } });
        assert_eq!(
            api.post(&format!("/api/sides/{}/features", api.shop.side), named)
                .await
                .status,
            422
        );
    }
    // In an address they are left out, and an SVG that carries what was typed is XML.
    let piece = api
        .piece(lettering("TERN & <HAVEN> \"x\"", "12", "48", "27 3/4"))
        .await;
    for path in [
        format!("/api/pieces/{piece}/piece.svg"),
        format!("/api/sides/{}/side.svg", api.shop.side),
    ] {
        let svg = api
            .client
            .get(path)
            .dispatch()
            .await
            .into_string()
            .await
            .unwrap();
        roxmltree::Document::parse(&svg).unwrap();
    }
    let name = "/api/shop/typefaces?name=Our%00s%1b";
    assert_eq!(
        api.raw(name, include_bytes!("../../core/fonts/oswald.ttf"))
            .await
            .body["name"],
        "Ours"
    );
}

#[rocket::async_test]
async fn a_page_at_another_name_reads_and_changes_nothing() {
    let api = Api::start().await;
    let get = async |host: &'static str| {
        let answer = api
            .client
            .get("/api/jobs")
            .header(Header::new("Host", host))
            .dispatch()
            .await;
        (answer.status().code, answer.into_string().await.unwrap())
    };
    for host in [
        "127.0.0.1:8410",
        "localhost:8410",
        "localhost",
        "[::1]:8410",
    ] {
        assert_eq!(get(host).await.0, 200, "{host}");
    }
    for host in [
        "rebound.example:8410",
        "127.0.0.1.rebound.example",
        "evil",
        "localhost.evil:80",
        "",
    ] {
        let (status, body) = get(host).await;
        assert_eq!(status, 421, "{host}");
        assert!(!body.contains("Skerry"), "{body}");
    }
    let job = json!({ "id": Uuid::now_v7(), "customer": "Skerry", "vehicle_kind": "panel_van", "unit": "millimetre" });
    let post = async |headers: &[(&'static str, &'static str)], kind: Option<ContentType>| {
        let mut request = api.client.post("/api/jobs").body(job.to_string());
        request.add_header(Header::new("Crew-Id", api.who.to_string()));
        if let Some(kind) = kind {
            request.add_header(kind);
        }
        for (name, value) in headers {
            request.add_header(Header::new(*name, *value));
        }
        request.dispatch().await.status().code
    };
    let json = Some(ContentType::JSON);
    let here = ("Host", "127.0.0.1:8410");
    assert_eq!(
        post(&[here, ("Origin", "http://evil.example")], json.clone()).await,
        403
    );
    assert_eq!(
        post(&[here, ("Origin", "http://localhost:9999")], json.clone()).await,
        403
    );
    assert_eq!(post(&[here, ("Origin", "null")], json.clone()).await, 403);
    assert_eq!(
        post(&[here, ("Sec-Fetch-Site", "cross-site")], json.clone()).await,
        403
    );
    // What a form of another page can send without asking.
    for kind in [
        Some(ContentType::Plain),
        Some(ContentType::Form),
        Some(ContentType::Binary),
    ] {
        assert_eq!(post(&[here], kind).await, 415);
    }
    assert_eq!(api.get("/api/jobs").await["total"], 1);
    assert_eq!(
        post(&[here, ("Origin", "http://127.0.0.1:8410")], json).await,
        200
    );
}

#[rocket::async_test]
async fn unknown_addresses_and_methods_are_problems_in_words() {
    let api = Api::start().await;
    for (method, path, status) in [
        ("GET", "/api/nothing".to_owned(), 404),
        ("POST", "/api/nothing/here".into(), 404),
        ("GET", "/api/".into(), 404),
        ("DELETE", "/api/jobs".into(), 405),
        ("DELETE", format!("/api/jobs/{}", api.shop.job), 405),
        ("POST", "/api/health".into(), 405),
        ("GET", format!("/api/jobs/{}/undo", api.shop.job), 405),
        ("GET", format!("/api/jobs/{}?page=x", "none"), 404),
    ] {
        let body = if method == "GET" {
            Value::Null
        } else {
            json!({})
        };
        let answer = api.call(method, &path, body, &[]).await;
        assert_eq!(answer.status, status, "{method} {path}: {}", answer.body);
        assert_eq!(answer.kind.unwrap().to_string(), "application/problem+json");
        assert!(
            answer.body["detail"]
                .as_str()
                .is_some_and(|d| d.ends_with('.'))
        );
    }
}

#[rocket::async_test]
async fn what_does_not_change_is_fetched_once_and_text_is_packed() {
    let api = Api::start().await;
    std::fs::write(
        std::env::temp_dir().join("index.html"),
        "<!doctype html><title>Windrift</title>",
    )
    .unwrap();
    let page = api.client.get("/jobs/x/lay-out").dispatch().await;
    let tag = page.headers().get_one("ETag").unwrap().to_owned();
    let again = api
        .client
        .get("/jobs/x/lay-out")
        .header(Header::new("If-None-Match", tag))
        .dispatch()
        .await;
    assert_eq!(again.status().code, 304);
    let packed = api
        .client
        .get("/api/openapi.json")
        .header(Header::new("Accept-Encoding", "br;q=0.1, gzip"))
        .dispatch()
        .await;
    assert_eq!(packed.headers().get_one("Content-Encoding"), Some("gzip"));
    let bytes = packed.into_bytes().await.unwrap();
    assert!(
        bytes.len() < 160_000 && bytes.starts_with(&[0x1f, 0x8b]),
        "{}",
        bytes.len()
    );
    let photo = Uuid::now_v7();
    api.raw(
        &format!("/api/jobs/{}/photos?photo={photo}", api.shop.job),
        &picture(9),
    )
    .await;
    let kept = api
        .client
        .get(format!("/api/photos/{photo}"))
        .dispatch()
        .await;
    assert!(
        kept.headers()
            .get_one("Cache-Control")
            .unwrap()
            .contains("immutable")
    );
    let answer = api.client.get("/api/jobs").dispatch().await;
    assert_eq!(answer.headers().get_one("Cache-Control"), Some("no-store"));
}
