//! Jobs that are finished: out of the yard, found again, and the start of new ones, by API on a real PostgreSQL.

use serde_json::{Value, json};
use uuid::Uuid;

use super::common::{Api, lettering};

async fn yard(api: &Api, query: &str) -> Vec<Value> {
    let page = api.get(&format!("/api/jobs?{query}")).await;
    page["jobs"].as_array().unwrap().clone()
}

#[rocket::async_test]
async fn a_finished_job_leaves_the_yard_is_found_by_its_words_and_year_and_comes_back() {
    let api = Api::start().await;
    let job = format!("/api/jobs/{}", api.shop.job);
    api.piece(lettering("HAVEN 50%", "10", "18", "24")).await;
    assert_eq!(yard(&api, "page=0").await.len(), 1);
    for _ in 0..2 {
        let done = api.post(&format!("{job}/finish"), Value::Null).await;
        assert_eq!(done.status, 200, "{}", done.body);
        assert!(done.body["finished"].is_string());
    }
    assert!(yard(&api, "page=0").await.is_empty());
    assert_eq!(yard(&api, "finished=true").await.len(), 1);
    let year = time::OffsetDateTime::now_utc().year();
    for (find, n) in [
        ("skerry".to_owned(), 1),
        ("haven".into(), 1),
        ("50%25".into(), 1),
        (format!("skerry%20{year}"), 1),
        (format!("{}", year - 1), 0),
        ("heaven".into(), 0),
    ] {
        let found = yard(&api, &format!("find={find}")).await;
        assert_eq!(found.len(), n, "{find}");
        assert!(found.iter().all(|j| j["finished"].is_string()));
    }
    // Nothing of it is gone, and it is worked on again where it must be.
    assert_eq!(api.get(&job).await["sides"][0]["pieces"], 1);
    let back = api.post(&format!("{job}/reopen"), Value::Null).await;
    assert_eq!((back.status, &back.body["finished"]), (200, &Value::Null));
    assert_eq!(yard(&api, "page=0").await.len(), 1);
    let gone = format!("/api/jobs/{}/finish", Uuid::now_v7());
    assert_eq!(api.post(&gone, Value::Null).await.status, 404);
}

#[rocket::async_test]
async fn a_copy_has_what_was_laid_out_under_keys_of_its_own_and_nothing_that_was_done() {
    let api = Api::start().await;
    let job = format!("/api/jobs/{}", api.shop.job);
    let first = api.piece(lettering("HAVEN", "10", "18", "24")).await;
    // One that is placed after the other: the copy's goes after the copy's.
    let mut after = lettering("FERRIES", "10", "18", "40");
    after["place"]["along"] = json!({ "rule": "after", "piece": first, "gap_mm": "6" });
    let followed = api
        .post(
            &format!("/api/sides/{}/pieces", api.shop.side),
            json!({ "id": Uuid::now_v7(), "spec": after }),
        )
        .await;
    let follows = followed.status == 200;
    api.lies(&first).await;
    let id = Uuid::now_v7();
    let refused = json!({ "id": id, "customer": " ", "another_vehicle": true });
    assert_eq!(api.post(&format!("{job}/copy"), refused).await.status, 422);
    let new =
        json!({ "id": id, "customer": "Petrel Post", "title": "Van 4", "another_vehicle": true });
    let made = api.post(&format!("{job}/copy"), new.clone()).await;
    assert_eq!(made.status, 200, "{}", made.body);
    // Its answer was lost: the same again is the same job.
    assert_eq!(
        api.post(&format!("{job}/copy"), new).await.body["sides"],
        made.body["sides"]
    );
    assert_eq!(yard(&api, "page=0").await.len(), 2);
    let side = made.body["sides"][0]["id"].as_str().unwrap();
    let (old, copy) = (
        api.get(&format!("/api/sides/{}", api.shop.side)).await,
        api.get(&format!("/api/sides/{side}")).await,
    );
    let readings = |view: &Value| -> Vec<Value> {
        let pieces = view["pieces"].as_array().unwrap().iter();
        pieces.map(|p| p["readings"].clone()).collect()
    };
    assert_eq!(readings(&copy), readings(&old), "the same readings");
    assert_eq!(readings(&old).len(), 1 + usize::from(follows));
    assert!(
        !copy.to_string().contains(&first),
        "no key of the other one's"
    );
    // Another vehicle: its body is not measured, and nothing was done on it.
    assert_eq!(copy["spec"]["unmeasured"].as_array().unwrap().len(), 3);
    assert_eq!(old["spec"].get("unmeasured"), None);
    let record = api.get(&format!("/api/jobs/{id}/record")).await;
    assert_eq!(record["entries"], json!([]));
    // The same vehicle again keeps its figures.
    let again = Uuid::now_v7();
    let new = json!({ "id": again, "customer": "Skerry Ferries", "another_vehicle": false });
    let made = api.post(&format!("{job}/copy"), new).await;
    let side = made.body["sides"][0]["id"].as_str().unwrap();
    assert_eq!(
        api.get(&format!("/api/sides/{side}")).await["spec"].get("unmeasured"),
        None
    );
}
