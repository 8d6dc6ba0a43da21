//! Two servers on one database tell their pages what the other one's people do.

use std::io::{BufRead, BufReader, Write};
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use uuid::Uuid;
use windrift_testkit::{Cluster, small_shop};

use super::common::token_of;
use super::strain::Served;

/// What a page hears, line by line, each with when.
fn hear(served: &Served, token: &str) -> std::sync::mpsc::Receiver<(Instant, Value)> {
    let mut stream = served.connect();
    let request =
        format!("GET /api/live HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: windrift={token}\r\n\r\n");
    stream.write_all(request.as_bytes()).unwrap();
    let mut lines = BufReader::new(stream).lines();
    assert!(lines.next().unwrap().unwrap().contains("200"));
    // It says at once that it hears.
    assert!(lines.by_ref().any(|l| l.unwrap() == ":hears"));
    let (send, heard) = std::sync::mpsc::channel();
    std::thread::spawn(move || {
        while let Some(Ok(line)) = lines.next() {
            if let Some(data) = line.strip_prefix("data:") {
                let told = serde_json::from_str(data).unwrap();
                if send.send((Instant::now(), told)).is_err() {
                    return;
                }
            }
        }
    });
    heard
}

/// Waits until something is heard that is so, and says how long it took: a machine that is busy is no failure.
fn until_heard(
    heard: &std::sync::mpsc::Receiver<(Instant, Value)>,
    since: Instant,
    is: impl Fn(&Value) -> bool,
) {
    while let Ok((at, told)) = heard.recv_timeout(Duration::from_secs(30)) {
        if is(&told) {
            println!("heard after {:?}", at - since);
            return;
        }
    }
    panic!("nothing was heard");
}

#[rocket::async_test]
async fn what_one_server_writes_the_other_tells_until_heard() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let token = token_of(&store, &shop.crew).await;
    let (one, other) = (Served::start(&cluster), Served::start(&cluster));
    let heard = [hear(&one, &token), hear(&other, &token)];
    let headers = format!(
        "Content-Type: application/json\r\nCookie: windrift={token}\r\nCrew-Id: {}\r\n",
        shop.crew[0]
    );
    let edit = Uuid::now_v7();
    let new = json!({ "id": Uuid::now_v7(), "spec": super::common::lettering("TERN", "12", "48", "27 3/4") });
    let since = Instant::now();
    let (status, body) = one.ask(
        "POST",
        &format!("/api/sides/{}/pieces", shop.side),
        &format!("{headers}Edit-Id: {edit}\r\n"),
        &new.to_string(),
    );
    assert_eq!(status, 200, "{body}");
    for ear in &heard {
        until_heard(ear, since, |told| {
            told["what"] == "job" && told["job"] == json!(shop.job) && told["id"] == json!(edit)
        });
    }
    // Who comes to a side is seen through the other server, and once only.
    let here = json!({ "side": shop.side, "stage": "lay-out" }).to_string();
    let path = format!("/api/jobs/{}/here", shop.job);
    let since = Instant::now();
    assert_eq!(one.ask("PUT", &path, &headers, &here).0, 200);
    until_heard(&heard[1], since, |told| told["what"] == "here");
    assert_eq!(one.ask("PUT", &path, &headers, &here).0, 200);
    let second = format!(
        "Cookie: windrift={}\r\n",
        token_of(&store, &[shop.crew[1]]).await
    );
    let (status, others) = other.ask(
        "PUT",
        &path,
        &format!("Content-Type: application/json\r\n{second}"),
        &here,
    );
    assert_eq!(status, 200, "{others}");
    let others: Value = serde_json::from_str(&others).unwrap();
    assert_eq!(others[0]["crew"], json!(shop.crew[0]));
    assert_eq!(others.as_array().unwrap().len(), 1);
    // What a thermometer reads stands on the other server's pages as it comes.
    let made = json!({ "id": Uuid::now_v7(), "bay": "Bay 1", "name": "gun side", "reads": "heat" });
    let (status, made) = one.ask("POST", "/api/devices", &headers, &made.to_string());
    assert_eq!(status, 200, "{made}");
    let made: Value = serde_json::from_str(&made).unwrap();
    let key = format!(
        "Content-Type: application/json\r\nDevice-Key: {}\r\n",
        made["key"].as_str().unwrap()
    );
    let reading = json!({ "readings": [{ "celsius": 86.5 }] }).to_string();
    let since = Instant::now();
    assert_eq!(one.ask("POST", "/api/heat-readings", &key, &reading).0, 200);
    until_heard(&heard[1], since, |told| {
        told["what"] == "heat" && told["device"] == made["id"] && told["celsius"] == 86.5
    });
    // Nothing is told to whoever is not signed in.
    assert_eq!(other.ask("GET", "/api/live", "", "").0, 401);
}
