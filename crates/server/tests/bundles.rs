//! A job as one file: out, verified with other tools, changed, and taken in by another Windrift.

use std::io::Write;
use std::process::{Command, Stdio};

use serde_json::{Value, json};
use uuid::Uuid;
use windrift_formats::bundle::{Named, pack, unpack};
use windrift_server::bundle::verify;
use windrift_server::openapi::bundle_schema;

use crate::common::Api;
use crate::hand_over::laid;

pub async fn bytes_of(api: &Api, path: &str) -> Vec<u8> {
    let answer = api.client.get(path.to_owned()).dispatch().await;
    assert_eq!(answer.status().code, 200);
    answer.into_bytes().await.unwrap()
}

/// A job with a side, a print that lies, a photo, a plan and some of a record.
async fn filled(api: &Api) -> (Vec<u8>, String) {
    let piece = laid(api, "a print", "3'").await;
    let mut jpeg = Vec::new();
    let picture = image::DynamicImage::new_rgb8(64, 48);
    picture
        .write_to(
            &mut std::io::Cursor::new(&mut jpeg),
            image::ImageFormat::Jpeg,
        )
        .unwrap();
    let photo = Uuid::now_v7();
    let kept = api
        .raw(
            &format!("/api/jobs/{}/photos?photo={photo}", api.shop.job),
            &jpeg,
        )
        .await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let plan = json!({ "id": Uuid::now_v7() });
    let issued = api
        .post(&format!("/api/jobs/{}/plans", api.shop.job), plan)
        .await;
    assert_eq!(issued.status, 200, "{}", issued.body);
    let bundle = bytes_of(api, &format!("/api/jobs/{}/bundle.zip", api.shop.job)).await;
    (bundle, piece)
}

pub fn sha256sum(bytes: &[u8]) -> String {
    let mut tool = Command::new("sha256sum")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    tool.stdin.take().unwrap().write_all(bytes).unwrap();
    let out = tool.wait_with_output().unwrap();
    String::from_utf8(out.stdout)
        .unwrap()
        .split_whitespace()
        .next()
        .unwrap()
        .to_owned()
}

fn from_hex(text: &str) -> Vec<u8> {
    (0..text.len())
        .step_by(2)
        .map(|n| u8::from_str_radix(&text[n..n + 2], 16).unwrap())
        .collect()
}

#[rocket::async_test]
async fn a_bundle_is_verified_by_general_tools_and_every_change_is_named() {
    let api = Api::start().await;
    let (bundle, _) = filled(&api).await;
    let whole = verify(&bundle).unwrap();
    assert!(whole.wrong.is_empty(), "{:?}", whole.wrong);
    let files = unpack(&bundle).unwrap();
    let of = |name: &str| files.iter().find(|(n, _)| n == name).unwrap().1.clone();
    let manifest: Value = serde_json::from_slice(&of("bundle.json")).unwrap();
    // Its schema, by a general validator.
    let schema = bundle_schema();
    let file = concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../../docs/job-bundle.schema.json"
    );
    let published: Value = serde_json::from_slice(&std::fs::read(file).unwrap()).unwrap();
    assert_eq!(
        schema, published,
        "docs/job-bundle.schema.json is stale: windrift-server bundle-schema"
    );
    let validator = jsonschema::validator_for(&schema).unwrap();
    assert!(validator.is_valid(&manifest));
    let mut without = manifest.clone();
    without.as_object_mut().unwrap().remove("latest");
    assert!(!validator.is_valid(&without));
    // Every file's hash and the chain, by a general hash tool, as HOW-TO-VERIFY.txt says.
    for (name, hash) in manifest["files"].as_object().unwrap() {
        assert_eq!(sha256sum(&of(name)), hash.as_str().unwrap(), "{name}");
    }
    let key = from_hex(&manifest["job"].as_str().unwrap().replace('-', ""));
    let mut before = vec![0; 32];
    let record = String::from_utf8(of("record.jsonl")).unwrap();
    assert!(record.lines().count() >= 2);
    for (n, line) in (1u64..).zip(record.lines()) {
        let entry: Value = serde_json::from_str(line).unwrap();
        let text = entry["entry"].as_str().unwrap().as_bytes();
        let hash = sha256sum(&[&before[..], &key, &n.to_be_bytes(), text].concat());
        assert_eq!(hash, entry["hash"].as_str().unwrap());
        before = from_hex(&hash);
    }
    assert_eq!(
        files
            .iter()
            .filter(|(n, _)| n.starts_with("photos/"))
            .count(),
        2
    );
    let svg = files.iter().find(|(n, _)| n.starts_with("sides/")).unwrap();
    assert!(String::from_utf8_lossy(&svg.1).contains("<svg"));

    // One byte of an entry, of a photo; a line more, a line less; a later version; what is no bundle.
    let changed = |name: &str, how: &dyn Fn(&mut Vec<u8>)| -> Vec<u8> {
        let mut other: Vec<Named> = files.clone();
        let file = other.iter_mut().find(|(n, _)| n.starts_with(name)).unwrap();
        how(&mut file.1);
        pack(&other).unwrap()
    };
    let second = record.lines().next().unwrap().len() + 1;
    let at = second + record.lines().nth(1).unwrap().find("crew").unwrap();
    let byte = changed("record.jsonl", &|b| b[at] ^= 1);
    assert!(verify(&byte).unwrap().wrong[0].starts_with("Entry 2 of the record was changed"));
    let photo = changed("photos/", &|b| b[40] ^= 1);
    assert!(verify(&photo).unwrap().wrong[0].contains(".jpg was changed"));
    let cut = changed("record.jsonl", &|b| {
        let keep = b[..b.len() - 1].iter().rposition(|c| *c == b'\n').unwrap();
        b.truncate(keep + 1);
    });
    assert!(verify(&cut).unwrap().wrong[0].starts_with("The record ends with entry"));
    let later = changed("bundle.json", &|b| {
        *b = String::from_utf8_lossy(b)
            .replacen("\"version\": 1", "\"version\": 2", 1)
            .into_bytes();
    });
    assert!(verify(&later).unwrap_err().contains("later Windrift"));
    let mut more = files.clone();
    more.push(("added.txt".into(), b"x".to_vec()));
    assert!(verify(&pack(&more).unwrap()).unwrap().wrong[0].contains("added.txt"));
    for not in [&b"hello"[..], &bundle[..bundle.len() / 2], &[]] {
        assert!(verify(not).unwrap_err().contains("no job bundle"));
    }
    // What unpacks to far more than it may is not unpacked.
    let bomb = pack(&[("bundle.json".into(), vec![b' '; 520 * 1024 * 1024])]).unwrap();
    assert!(bomb.len() < 4 * 1024 * 1024);
    assert!(verify(&bomb).unwrap_err().contains("512 MB"));
}

#[rocket::async_test]
async fn another_windrift_takes_it_in_whole_once_and_goes_on_with_it() {
    let (from, to) = (Api::start().await, Api::start().await);
    let (bundle, piece) = filled(&from).await;
    let job = from.shop.job;
    let broken = {
        let mut files = unpack(&bundle).unwrap();
        let record = files.iter_mut().find(|(n, _)| n == "record.jsonl").unwrap();
        let end = record.1.len() - 20;
        record.1[end] ^= 1;
        pack(&files).unwrap()
    };
    let refused = to.raw("/api/bundles", &broken).await;
    assert_eq!(refused.status, 422);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("not taken in: Entry"),
        "{}",
        refused.body
    );
    // A row that hangs on another job is not taken in, whatever its hashes say.
    let foreign = {
        let mut files = unpack(&bundle).unwrap();
        let first = &mut files
            .iter_mut()
            .find(|(n, _)| n == "bundle.json")
            .unwrap()
            .1;
        let mut manifest: Value = serde_json::from_slice(first).unwrap();
        let tables = manifest["tables"].as_array_mut().unwrap();
        let side = tables.iter_mut().find(|t| t["table"] == "side").unwrap();
        side["rows"][0]["parent_id"] = json!(to.shop.job);
        *first = serde_json::to_vec(&manifest).unwrap();
        pack(&files).unwrap()
    };
    let refused = to.raw("/api/bundles", &foreign).await;
    assert!(refused.status >= 400, "{}", refused.body);
    assert_eq!(
        to.call("GET", &format!("/api/jobs/{job}"), Value::Null, &[])
            .await
            .status,
        404
    );

    let taken = to.raw("/api/bundles", &bundle).await;
    assert_eq!(
        (taken.status, taken.body["job"].as_str()),
        (200, Some(&*job.to_string())),
        "{}",
        taken.body
    );
    let both = |path: String| {
        let (from, to) = (&from, &to);
        async move { (from.get(&path).await, to.get(&path).await) }
    };
    let (here, there) = both(format!("/api/jobs/{job}/record/check")).await;
    assert_eq!(here["latest"], there["latest"]);
    assert!(there["broken_at"].is_null());
    let (here, there) = both(format!("/api/sides/{}", from.shop.side)).await;
    assert_eq!(
        (&here["spec"], &here["pieces"]),
        (&there["spec"], &there["pieces"])
    );
    let (here, there) = both(format!("/api/jobs/{job}/care")).await;
    assert_eq!(here["dates"], there["dates"]);
    // Once.
    let again = to.raw("/api/bundles", &bundle).await;
    assert!(
        again.body["detail"]
            .as_str()
            .unwrap()
            .contains("is here already"),
        "{}",
        again.body
    );
    // Whoever wrote of it there is a viewer here, and the record goes on.
    let note = json!({ "id": Uuid::now_v7(), "entry": { "what": "sealed", "run": "nothing" } });
    let said = to.post(&format!("/api/pieces/{piece}/heat"), note).await;
    assert_eq!(said.status, 404, "{}", said.body);
    let plan = json!({ "id": Uuid::now_v7() });
    let issued = to.post(&format!("/api/jobs/{job}/plans"), plan).await;
    assert_eq!(issued.status, 200, "{}", issued.body);
    let back = bytes_of(&to, &format!("/api/jobs/{job}/bundle.zip")).await;
    assert!(verify(&back).unwrap().wrong.is_empty());
}
