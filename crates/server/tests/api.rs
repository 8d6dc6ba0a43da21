//! The API on a real PostgreSQL: the installer's path, bad input in words, two people at once, PostgreSQL away.

use crate::common::{Api, lettering};
use rocket::http::{ContentType, Status};
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_testkit::Cluster;

#[rocket::async_test]
async fn the_path_from_an_empty_yard_to_the_packet() {
    let api = Api::start().await;
    let job = Uuid::now_v7();
    let new = json!({ "id": job, "customer": "Skerry Ferries", "title": "", "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
    let started = api.post("/api/jobs", new.clone()).await;
    assert_eq!(started.status, 200, "{}", started.body);
    assert_eq!(started.body["title"], "Skerry Ferries, box truck");
    assert_eq!(started.body["sides"].as_array().unwrap().len(), 2);
    assert_eq!(
        api.post("/api/jobs", new).await.body["sides"],
        started.body["sides"],
        "repeated, not doubled"
    );
    let side = started.body["sides"][0]["id"].as_str().unwrap().to_owned();
    assert_eq!(started.body["sides"][0]["name"], "street side");

    // Look over: lengths as they are typed.
    let columns = json!({ "kind": "rivets", "form": { "form": "heads", "first_mm": "46 3/4", "pitch_mm": "4'", "columns": 5, "first_head_mm": "4", "head_pitch_mm": "6", "heads": 13, "head_mm": "1/2" } });
    let row = api
        .post(
            &format!("/api/sides/{side}/features"),
            json!({ "id": Uuid::now_v7(), "spec": columns }),
        )
        .await;
    assert_eq!(
        (row.status, row.etag.as_deref()),
        (200, Some("\"1\"")),
        "{}",
        row.body
    );
    assert_eq!(row.body["spec"]["form"]["first_mm"], 1187.45);

    // Lay out, and move it by a step while nothing is written.
    let id = Uuid::now_v7().to_string();
    let row = api
        .post(
            &format!("/api/sides/{side}/pieces"),
            json!({ "id": id, "spec": lettering("TIDEWAY", "14", "18", "27 3/4") }),
        )
        .await;
    assert_eq!(row.status, 200, "{}", row.body);
    let view = api.get(&format!("/api/sides/{side}")).await;
    let piece = &view["pieces"][0];
    assert_eq!(piece["readings"]["first_letter"]["text"], "18");
    assert_eq!(
        piece["readings"]["flats"]["front"]["wanted"]["text"],
        "27 3/4"
    );
    assert_eq!(piece["printed"]["/place/down/distance_mm"], "27 3/4");
    assert!(
        piece["layers"][0]["film"]
            .as_str()
            .unwrap()
            .starts_with('M')
    );
    let tried = api
        .post(&format!("/api/sides/{side}/evaluate"), json!({ "only_tried": true, "pieces": [{ "id": id, "spec": piece["spec"], "nudge": { "right_mm": 1.5875, "down_mm": 0.0 } }] }))
        .await;
    assert_eq!(
        tried.body["pieces"][0]["readings"]["first_letter"]["text"],
        "18 1/16"
    );
    assert_eq!(
        api.get(&format!("/api/sides/{side}")).await["pieces"][0]["readings"]["first_letter"]["text"],
        "18"
    );

    // Hinge: read, move, read, lock.
    let moved = api.read_ends(&id, "27 3/4", "27 13/16").await;
    assert_eq!(
        moved.body["sentence"], "Rear tape up 1/16. Front stays put. Read both again.",
        "{}",
        moved.body
    );
    // An end is right within the tape's tolerance, 1/32 in, not only to the mark.
    let right = |round: &Value| {
        [
            round["front"]["right"].clone(),
            round["rear"]["right"].clone(),
        ]
    };
    assert_eq!(right(&moved.body), [json!(true), json!(false)]);
    let early = api
        .post(
            &format!("/api/pieces/{id}/lock"),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(
        (early.status, early.body["code"].as_str()),
        (422, Some("not_level"))
    );
    let level = api.read_ends(&id, "27 3/4", "27 25/32").await;
    assert_eq!(level.body["advice"]["do"], "lock");
    assert_eq!(right(&level.body), [json!(true), json!(true)]);
    let lock = json!({ "id": Uuid::now_v7() });
    let path = format!("/api/pieces/{id}/lock");
    let locked = api.post(&path, lock.clone()).await;
    assert_eq!(locked.status, 200, "{}", locked.body);
    assert_eq!(
        api.post(&path, lock).await.body["seq"],
        locked.body["seq"],
        "repeated, recorded once"
    );
    assert_eq!(
        api.get(&format!("/api/pieces/{id}/hinge")).await["locked"],
        true
    );

    // Hand over.
    let plan = api
        .post(
            &format!("/api/jobs/{job}/plans"),
            json!({ "id": Uuid::now_v7() }),
        )
        .await;
    assert_eq!(
        (plan.body["number"].as_i64(), plan.body["by"].as_str()),
        (Some(1), Some("Maren")),
        "{}",
        plan.body
    );
    let plan_id = plan.body["id"].as_str().unwrap();
    for paper in ["letter", "a4"] {
        let packet = api
            .pdf(&format!("/api/plans/{plan_id}/packet.pdf?paper={paper}"))
            .await;
        // The figures of the screen stand on the paper: both flats, the first letter, who issued it.
        for words in ["27 3/4", "18", "Maren", "Skerry Ferries"] {
            assert!(packet.contains(words), "{words}: {packet}");
        }
    }
    // One piece of it alone, with what was done about it on the floor.
    let one = api
        .pdf(&format!(
            "/api/plans/{plan_id}/packet.pdf?paper=letter&pieces={id}"
        ))
        .await;
    assert!(
        one.contains("what was done") && one.contains("Hinge locked"),
        "{one}"
    );
    let svg = api
        .call(
            "GET",
            &format!("/api/pieces/{id}/piece.svg"),
            Value::Null,
            &[],
        )
        .await;
    assert_eq!((svg.status, svg.kind), (200, Some(ContentType::SVG)));
    let record = api.get(&format!("/api/jobs/{job}/record")).await;
    let kinds: Vec<&str> = record["entries"]
        .as_array()
        .unwrap()
        .iter()
        .map(|e| e["kind"].as_str().unwrap())
        .collect();
    assert_eq!(kinds, ["reading", "reading", "lock", "plan"]);
    assert!(
        record["entries"][0]["what"]
            .as_str()
            .unwrap()
            .contains("27 13/16")
    );
    assert_eq!(
        api.get(&format!("/api/jobs/{job}/record/check")).await["broken_at"],
        Value::Null
    );
    let stages = api.get(&format!("/api/jobs/{job}")).await["stages"].clone();
    assert_eq!(
        (
            &stages[5]["state"],
            &stages[6]["state"],
            &stages[8]["state"]
        ),
        // Look over stays the next one: nobody measured what came with the shape.
        (&json!("done"), &json!("later"), &json!("later"))
    );

    // A change after the lock opens the hinge again.
    let mut spec = piece["spec"].clone();
    spec["place"]["down"]["distance_mm"] = json!("28");
    assert_eq!(
        api.put(&format!("/api/pieces/{id}"), 1, spec).await.status,
        200
    );
    let hinge = api.get(&format!("/api/pieces/{id}/hinge")).await;
    assert_eq!(
        (
            &hinge["locked"],
            &hinge["lock_lost"],
            hinge["rounds"].as_array().unwrap().len()
        ),
        (&json!(false), &json!(true), 0)
    );
}

#[rocket::async_test]
async fn bad_input_gets_one_clear_sentence_and_changes_nothing() {
    let api = Api::start().await;
    let id = api.piece(lettering("HAVEN", "12", "18", "24")).await;
    let side = format!("/api/sides/{}", api.shop.side);
    let before = api.get(&side).await;
    let change = |pointer: &str, value: Value| {
        let mut spec = before["pieces"][0]["spec"].clone();
        *spec.pointer_mut(pointer).unwrap() = value;
        spec
    };
    let cases = [
        (
            "/place/along/distance_mm",
            json!("27 3/0"),
            "/spec/place/along/distance_mm",
            "A fraction cannot be over 0.",
        ),
        (
            "/place/along/distance_mm",
            json!("abc"),
            "/spec/place/along/distance_mm",
            "is not a length",
        ),
        (
            "/place/along/distance_mm",
            json!("-4"),
            "/spec/place/along/distance_mm",
            "cannot be less than 0",
        ),
        (
            "/place/along/distance_mm",
            json!("10 km"),
            "/spec/place/along/distance_mm",
            "longer than 100 ft",
        ),
        (
            "/place/along/distance_mm",
            json!("90'"),
            "/spec/place",
            "off the side",
        ),
        (
            "/art/text",
            json!("\u{4e2d}\u{6587}"),
            "/spec/art/text",
            "Archivo Black has no",
        ),
        (
            "/art/text",
            json!("   "),
            "/spec/art/text",
            "nothing to cut",
        ),
        (
            "/art/text",
            json!("A".repeat(121)),
            "/spec/art/text",
            "split it into several",
        ),
        (
            "/art/text",
            json!("A".repeat(5000)),
            "/spec/art/text",
            "characters",
        ),
        (
            "/art/typeface",
            json!("nothing"),
            "/spec/art/typeface",
            "has no typeface",
        ),
        (
            "/art/size",
            json!({ "by": "capital_height", "height_mm": "0" }),
            "/spec/art/size",
            "Capitals must be between",
        ),
        ("/art/colour", json!("green"), "/spec/art/colour", "#14524d"),
    ];
    for (pointer, value, field, says) in cases {
        let answer = api
            .put(
                &format!("/api/pieces/{id}"),
                1,
                change(pointer, value.clone()),
            )
            .await;
        assert_eq!(answer.status, 422, "{value}: {}", answer.body);
        assert_eq!(
            answer.kind,
            Some(ContentType::new("application", "problem+json"))
        );
        assert_eq!(answer.body["field"], field, "{value}");
        let detail = answer.body["detail"].as_str().unwrap();
        assert!(
            detail.contains(says) && detail.ends_with('.') || detail.contains(says),
            "{value}: {detail}"
        );
    }
    // The side: a rail that leaves it, measurements that no longer carry what is on it.
    let body = before["spec"].clone();
    let with = |key: &str, value: &str| {
        let mut spec = body.clone();
        spec["body"][key] = json!(value);
        spec
    };
    for (spec, says) in [
        (with("fall_mm", "8'"), "leave the side"),
        (with("length_mm", "0"), "length of a side"),
        (with("height_mm", "900 ft"), "longer than 100 ft"),
    ] {
        let answer = api.put(&side, 1, spec).await;
        assert_eq!(answer.status, 422);
        assert!(
            answer.body["detail"].as_str().unwrap().contains(says),
            "{}",
            answer.body
        );
    }
    // Readings that contradict each other are kept in the record and move nothing.
    assert_eq!(
        api.read_ends(&id, "24", "25").await.body["advice"]["do"],
        "read_again"
    );
    let contradicting = api.read_ends(&id, "24", "30").await;
    assert_eq!(
        (contradicting.status, contradicting.body["code"].as_str()),
        (422, Some("readings_contradict")),
        "{}",
        contradicting.body
    );
    assert_eq!(
        api.read_ends(&id, "24", "24").await.body["advice"]["do"],
        "lock"
    );
    let record = api.get(&format!("/api/jobs/{}/record", api.shop.job)).await;
    assert_eq!(record["entries"].as_array().unwrap().len(), 3);

    let after = api.get(&side).await;
    assert_eq!(
        (&after["revision"], &after["pieces"]),
        (&before["revision"], &before["pieces"]),
        "nothing was changed"
    );
}

#[rocket::async_test]
async fn the_same_wrong_figure_twice_is_believed() {
    let api = Api::start().await;
    let id = api.piece(lettering("HAVEN", "12", "18", "24")).await;
    let asked = api.read_ends(&id, "24", "25").await;
    assert!(
        asked.body["sentence"]
            .as_str()
            .unwrap()
            .contains("a whole inch out"),
        "{}",
        asked.body
    );
    assert_eq!(
        api.read_ends(&id, "24", "25").await.body["advice"]["do"],
        "move"
    );
    // After moves, a reading is compared with what the moves should have left.
    assert_eq!(api.read_ends(&id, "24", "24").await.body["rounds_moved"], 1);
}

#[rocket::async_test]
async fn the_second_writer_is_told_with_both_versions() {
    let mut api = Api::start().await;
    let id = api.piece(lettering("HAVEN", "12", "18", "24")).await;
    let path = format!("/api/pieces/{id}");
    assert_eq!(
        api.put(&path, 1, lettering("HAVEN", "12", "20", "24"))
            .await
            .status,
        200
    );
    api.who = api.shop.crew[1];
    let late = api
        .put(&path, 1, lettering("HARBOUR", "12", "18", "24"))
        .await;
    assert_eq!(
        (
            late.status,
            late.body["code"].as_str(),
            late.body["by"].as_str()
        ),
        (409, Some("stale"), Some("Maren"))
    );
    assert_eq!(late.body["revision"], 2);
    assert_eq!(late.body["current"]["place"]["along"]["distance_mm"], 508.0);
    let side = api.get(&format!("/api/sides/{}", api.shop.side)).await;
    assert_eq!(side["pieces"][0]["spec"]["art"]["text"], "HAVEN");
    // The same edit again, because the network blinked, is known and not stale.
    let edit = [
        ("If-Match", "\"2\"".to_owned()),
        ("Edit-Id", Uuid::now_v7().to_string()),
    ];
    let spec = json!({ "spec": lettering("HARBOUR", "12", "20", "24") });
    for _ in 0..2 {
        assert_eq!(
            api.call("PUT", &path, spec.clone(), &edit).await.body["revision"],
            3
        );
    }
    let undone = api
        .post(&format!("/api/jobs/{}/undo", api.shop.job), Value::Null)
        .await;
    assert_eq!(
        undone.body["spec"]["art"]["text"], "HAVEN",
        "{}",
        undone.body
    );
    assert_eq!(
        api.call("PUT", &path, spec, &[]).await.body["code"],
        "revision",
        "a write must name what it saw"
    );
}

#[rocket::async_test]
async fn nobody_and_viewers_change_nothing_and_limits_hold() {
    let mut api = Api::start().await;
    let pieces = format!("/api/sides/{}/pieces", api.shop.side);
    let new = json!({ "id": Uuid::now_v7(), "spec": lettering("HAVEN", "12", "18", "24") });
    api.who = api.shop.crew[2];
    assert_eq!(api.post(&pieces, new.clone()).await.status, 403);
    api.who = Uuid::now_v7();
    assert_eq!(api.post(&pieces, new).await.status, 401);
    let strange = api
        .call("POST", &pieces, json!({}), &[("Crew-Id", "nobody".into())])
        .await;
    assert_eq!(
        (strange.status, strange.body["code"].as_str()),
        (401, Some("who"))
    );
    api.who = api.shop.crew[0];
    let big = json!({ "id": Uuid::now_v7(), "spec": "x".repeat(13 * 1024 * 1024) });
    assert_eq!(api.post(&pieces, big.clone()).await.status, 413);
    let features = pieces.replace("pieces", "features");
    assert_eq!(api.post(&features, big).await.status, 413);
    for broken in [
        json!([]),
        json!(7),
        json!({ "id": 3 }),
        json!({ "id": Uuid::now_v7() }),
    ] {
        let answer = api.post(&pieces, broken).await;
        assert_eq!(
            answer.kind,
            Some(ContentType::new("application", "problem+json"))
        );
        assert!(answer.status == 422, "{}", answer.body);
    }
    for path in [
        "/api/sides/no-key",
        "/api/nothing",
        &format!("/api/sides/{}", Uuid::now_v7()),
    ] {
        let answer = api.call("GET", path, Value::Null, &[]).await;
        assert_eq!(
            (answer.status, answer.body["code"].as_str()),
            (404, Some("not_found")),
            "{path}"
        );
    }
    let page = api.get("/api/jobs?page=0").await;
    assert_eq!(
        (
            page["total"].as_u64(),
            page["jobs"].as_array().unwrap().len()
        ),
        (Some(1), 1)
    );
    assert_eq!(api.get("/api/jobs?page=9").await["jobs"], json!([]));
}

#[rocket::async_test]
async fn postgresql_away_is_told_and_the_server_goes_on_by_itself() {
    let api = Api::at(Cluster::alone().await).await;
    let side = format!("/api/sides/{}", api.shop.side);
    api.get(&side).await;
    api.cluster.stop();
    let away = api.call("GET", &side, Value::Null, &[]).await;
    assert_eq!(
        (away.status, away.body["code"].as_str()),
        (503, Some("database_away")),
        "{}",
        away.body
    );
    assert!(
        away.body["detail"]
            .as_str()
            .unwrap()
            .contains("Nothing was lost")
    );
    assert_eq!(
        api.client.get("/api/health").dispatch().await.status(),
        Status::ServiceUnavailable
    );
    api.cluster.start_again();
    api.get(&side).await;
}
