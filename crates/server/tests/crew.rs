//! The first page of an empty shop, its crew, and finding a job in the yard, by API on a real PostgreSQL.

use serde_json::{Value, json};
use uuid::Uuid;

use super::common::Api;

#[rocket::async_test]
async fn a_shop_is_set_up_once() {
    let api = Api::start().await;
    let first = |name: &str, person: &str| json!({ "id": Uuid::now_v7(), "name": name, "person": person, "passphrase": "tern over the breakwater", "side_words": "street_curb_keep_right", "zone": "Europe/Oslo" });
    // This one is set up already: nobody makes himself its lead from outside.
    let again = api
        .post("/api/shop/first", first("Another", "Stranger"))
        .await;
    assert_eq!(
        (again.status, again.body["code"].as_str()),
        (409, Some("set_up"))
    );
    for (shop, person, field) in [("", "Ragna", "/name"), ("Skerry", " ", "/person")] {
        let told = api.post("/api/shop/first", first(shop, person)).await;
        assert_eq!(
            (told.status, told.body["field"].as_str()),
            (422, Some(field))
        );
    }
    let crew = api.get("/api/shop").await["crew"].clone();
    assert!(
        crew.as_array()
            .unwrap()
            .iter()
            .all(|c| c["name"] != "Stranger")
    );
}

#[rocket::async_test]
async fn the_lead_adds_and_renames_people_and_somebody_leads() {
    let mut api = Api::start().await;
    let put = async |api: &Api, id: Uuid, name: &str, role: &str| {
        api.call(
            "PUT",
            &format!("/api/crew/{id}"),
            json!({ "name": name, "role": role }),
            &[],
        )
        .await
    };
    let tove = Uuid::now_v7();
    assert_eq!(put(&api, tove, "Tove", "fitter").await.status, 200);
    // The answer was lost: the same again is the same person.
    assert_eq!(put(&api, tove, "Tove", "fitter").await.status, 200);
    assert_eq!(
        put(&api, Uuid::now_v7(), "tove", "fitter").await.status,
        409
    );
    assert_eq!(put(&api, tove, "Tove B.", "viewer").await.status, 200);
    let crew = api.get("/api/shop").await["crew"].clone();
    let found: Vec<&Value> = crew
        .as_array()
        .unwrap()
        .iter()
        .filter(|c| c["id"] == json!(tove))
        .collect();
    assert_eq!(
        (found.len(), &found[0]["name"], &found[0]["role"]),
        (1, &json!("Tove B."), &json!("viewer"))
    );
    let lead = api.who;
    let name = crew
        .as_array()
        .unwrap()
        .iter()
        .find(|c| c["id"] == json!(lead))
        .unwrap()["name"]
        .clone();
    let alone = put(&api, lead, name.as_str().unwrap(), "fitter").await;
    assert_eq!(
        (alone.status, alone.body["code"].as_str()),
        (422, Some("last_lead"))
    );
    assert_eq!(put(&api, Uuid::now_v7(), "", "fitter").await.status, 422);
    // Others may not.
    let here = api.post("/api/me/people", json!({ "crew": tove })).await;
    assert_eq!(here.status, 200, "{}", here.body);
    api.who = tove;
    assert_eq!(
        put(&api, Uuid::now_v7(), "Nobody", "lead").await.status,
        403
    );
}

#[rocket::async_test]
async fn a_job_is_found_by_its_words() {
    let api = Api::start().await;
    for (customer, title) in [("Dunlin Dairy", "50% wagon"), ("Petrel_Post", "")] {
        let new = json!({ "id": Uuid::now_v7(), "customer": customer, "title": title, "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
        assert_eq!(api.post("/api/jobs", new).await.status, 200);
    }
    // The small shop has one of its own.
    for (find, found) in [
        ("dairy", 1),
        ("DUNLIN%20box", 1),
        ("50%25", 1),
        ("50%25%25", 0),
        ("petrel_", 1),
        ("box", 3),
        ("nothing", 0),
        ("%5C", 0),
    ] {
        let yard = api.get(&format!("/api/jobs?find={find}")).await;
        let total = yard["total"].as_u64().unwrap() as usize;
        assert_eq!(
            (total, yard["jobs"].as_array().unwrap().len()),
            (found, found),
            "{find}"
        );
    }
}

#[rocket::async_test]
async fn a_job_is_named_anew_and_found_by_its_plate() {
    let api = Api::start().await;
    let new = json!({ "id": Uuid::now_v7(), "customer": "Dunlin Dairy", "title": "wagon", "plate": " KX-58 PLD ", "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
    let job = api.post("/api/jobs", new).await.body;
    assert_eq!(
        (&job["plate"], &job["revision"]),
        (&json!("KX-58 PLD"), &json!(1))
    );
    let found = |find: &'static str| {
        let api = &api;
        async move { api.get(&format!("/api/jobs?find={find}")).await["total"].clone() }
    };
    // As it is written, and as one reads it out.
    for find in ["kx-58", "KX58PLD", "58%20pld"] {
        assert_eq!(found(find).await, json!(1), "{find}");
    }
    let at = format!("/api/jobs/{}", job["id"].as_str().unwrap());
    let put = async |seen: u32, names: Value| {
        let seen = format!("\"{seen}\"");
        api.call("PUT", &at, names, &[("If-Match", seen)]).await
    };
    let names = |customer: &str, plate: &str| json!({ "customer": customer, "title": "wagon 4", "plate": plate });
    let named = put(1, names("Dunlin Dairies", "KX 59")).await;
    assert_eq!((named.status, &named.body["revision"]), (200, &json!(2)));
    assert_eq!(
        (found("KX58PLD").await, found("dairies%20kx59").await),
        (json!(0), json!(1))
    );
    // Pressed twice it is named once; who had not seen that is told what stands now, and the names stay.
    assert_eq!(put(1, names("Dunlin Dairies", "KX 59")).await.status, 200);
    let late = put(1, names("Dunlin", "")).await;
    assert_eq!((late.status, &late.body["revision"]), (409, &json!(2)));
    assert_eq!(late.body["current"]["customer"], "Dunlin Dairies");
    // No plate is none; no customer is a sentence.
    let none = put(2, names("Dunlin", "  ")).await;
    assert_eq!((none.status, &none.body["plate"]), (200, &Value::Null));
    let nobody = put(3, names(" ", "KX 59")).await;
    assert_eq!(nobody.status, 422);
    assert_eq!(api.get(&at).await["customer"], "Dunlin");
    let long = put(3, names("Dunlin", &"9".repeat(41))).await;
    assert_eq!(long.status, 422);
}

#[rocket::async_test]
async fn figures_of_a_starting_shape_are_unmeasured_until_they_are_typed_or_confirmed() {
    let api = Api::start().await;
    let new = json!({ "id": Uuid::now_v7(), "customer": "Whimbrel", "title": "", "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
    let job = api.post("/api/jobs", new).await.body;
    let stage = |job: &Value| job["stages"][0]["state"].clone();
    assert_eq!(stage(&job), "now");
    let side = format!("/api/sides/{}", job["sides"][0]["id"].as_str().unwrap());
    let view = api.get(&side).await;
    let mut spec = view["spec"].clone();
    assert_eq!(
        spec["unmeasured"],
        json!(["/body/length_mm", "/body/height_mm", "/body/fall_mm"])
    );
    spec["body"]["length_mm"] = json!("20' 6");
    assert_eq!(api.put(&side, 1, spec).await.status, 200);
    let mut spec = api.get(&side).await["spec"].clone();
    assert_eq!(
        spec["unmeasured"],
        json!(["/body/height_mm", "/body/fall_mm"])
    );
    // Confirmed as they stand; nobody makes a measured figure unmeasured again by typing it.
    spec["unmeasured"] = json!([]);
    assert_eq!(api.put(&side, 2, spec).await.status, 200);
    assert_eq!(api.get(&side).await["spec"].get("unmeasured"), None);
    let words = json!({ "words": "seam every 48" });
    let heard = api
        .post(&format!("{side}/features/quick"), words)
        .await
        .body;
    let seam = json!({ "id": Uuid::now_v7(), "spec": heard["feature"] });
    assert_eq!(
        api.post(&format!("{side}/features"), seam).await.status,
        200
    );
    // The other side was never touched; the looking over of the one that is worked on is done.
    let job = api
        .get(&format!("/api/jobs/{}", job["id"].as_str().unwrap()))
        .await;
    assert_eq!(stage(&job), "done");
    let missing = api
        .post(
            &format!("/api/sides/{}/features/quick", Uuid::now_v7()),
            json!({ "words": "seam" }),
        )
        .await;
    assert_eq!(missing.status, 404);
}

#[rocket::async_test]
async fn words_are_seen_in_every_typeface_and_shapes_in_their_outline() {
    let api = Api::start().await;
    let shop = api.get("/api/shop").await;
    let faces = shop["typefaces"].as_array().unwrap().len();
    let set = api.get("/api/typefaces?words=Skerry%20%26%20Sons").await;
    let set = set.as_array().unwrap();
    assert_eq!(set.len(), faces);
    let paths: std::collections::BTreeSet<&str> =
        set.iter().map(|s| s["path"].as_str().unwrap()).collect();
    assert_eq!(paths.len(), faces, "each typeface draws them its own way");
    assert_eq!(api.get("/api/typefaces?words=").await, json!([]));
    for shape in shop["start_shapes"].as_array().unwrap() {
        assert!(
            shape["picture"]["path"].as_str().unwrap().starts_with('M'),
            "{shape}"
        );
    }
}

#[rocket::async_test]
async fn another_starting_shape_is_not_measured_either() {
    let api = Api::start().await;
    let new = json!({ "id": Uuid::now_v7(), "customer": "Whimbrel", "title": "", "vehicle_kind": "box_truck", "unit": "inch_sixteenth" });
    let job = api.post("/api/jobs", new).await.body;
    let side = format!("/api/sides/{}", job["sides"][0]["id"].as_str().unwrap());
    let mut spec = api.get(&side).await["spec"].clone();
    spec["unmeasured"] = json!([]);
    assert_eq!(api.put(&side, 1, spec.clone()).await.status, 200);
    // Every figure of the new shape differs from what stood there; nobody typed one of them.
    let shape = api.get("/api/shapes/semi_trailer").await;
    spec["body"] = shape["body"].clone();
    spec["unmeasured"] = shape["unmeasured"].clone();
    assert_eq!(api.put(&side, 2, spec).await.status, 200);
    let mut spec = api.get(&side).await["spec"].clone();
    assert_eq!(spec["unmeasured"].as_array().unwrap().len(), 3);
    spec["body"]["height_mm"] = json!("8' 11");
    assert_eq!(api.put(&side, 3, spec).await.status, 200);
    let spec = api.get(&side).await["spec"].clone();
    assert_eq!(
        spec["unmeasured"],
        json!(["/body/length_mm", "/body/fall_mm"])
    );
}

#[rocket::async_test]
async fn a_figure_that_cannot_be_had_is_refused_in_words() {
    let api = Api::start().await;
    let id = api
        .piece(super::common::lettering("HAVEN", "12", "18", "24"))
        .await;
    let side = format!("/api/sides/{}", api.shop.side);
    let piece = api.get(&side).await["pieces"][0].clone();
    let type_over = async |figure: Value, reads: &str| {
        let tried = json!({ "id": id, "spec": piece["spec"], "typed": { "which": figure, "reads_mm": reads } });
        api.post(
            &format!("{side}/evaluate"),
            json!({ "only_tried": true, "pieces": [tried] }),
        )
        .await
    };
    let moved = type_over(json!({ "figure": "front_flat" }), "25 1/4").await;
    assert_eq!(
        moved.body["pieces"][0]["readings"]["flats"]["front"]["wanted"]["text"],
        "25 1/4"
    );
    // Off the side; the letters' own width; no length at all.
    for (figure, reads, code) in [
        (json!({ "figure": "front_flat" }), "60' 0", "figure"),
        (json!({ "figure": "gap", "number": 2 }), "9", "figure"),
        (json!({ "figure": "rear_flat" }), "twelve", "length"),
    ] {
        let refused = type_over(figure.clone(), reads).await;
        assert_eq!(
            (refused.status, refused.body["code"].as_str()),
            (422, Some(code)),
            "{figure} {reads}: {}",
            refused.body
        );
    }
    assert_eq!(piece["own_gaps"][0], 1);
}
