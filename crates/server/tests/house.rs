//! The house in order: generated files that are not stale, routes that are described. Formatters and linters are the launcher's.

use std::path::Path;
use std::process::Command;

use windrift_testkit::project;

fn run(folder: &Path, program: &str, arguments: &[&str]) {
    let output = Command::new(program)
        .args(arguments)
        .current_dir(folder)
        .output()
        .expect("the tool is installed");
    assert!(
        output.status.success(),
        "{program} {}\n{}{}",
        arguments.join(" "),
        String::from_utf8_lossy(&output.stdout),
        String::from_utf8_lossy(&output.stderr)
    );
}

#[test]
fn the_api_document_and_the_types_made_from_it_are_current() {
    let committed = std::fs::read_to_string(project().join("docs/openapi.json")).unwrap();
    let made = serde_json::to_string_pretty(&windrift_server::openapi::document()).unwrap();
    assert!(
        committed.trim() == made,
        "docs/openapi.json is stale: target/debug/windrift-server openapi > docs/openapi.json"
    );
    let types = std::env::temp_dir().join(format!("windrift-types-{}.d.ts", std::process::id()));
    run(
        &project().join("web"),
        "npx",
        &[
            "--no-install",
            "openapi-typescript",
            "../docs/openapi.json",
            "-o",
            types.to_str().unwrap(),
        ],
    );
    let made = std::fs::read_to_string(&types).unwrap();
    std::fs::remove_file(&types).unwrap();
    let committed =
        std::fs::read_to_string(project().join("web/src/api/generated/schema.d.ts")).unwrap();
    assert!(
        committed == made,
        "web/src/api/generated/schema.d.ts is stale: cd web && npm run types"
    );
}

#[test]
fn the_api_document_names_every_route() {
    let document = windrift_server::openapi::document();
    let described: usize = document["paths"]
        .as_object()
        .unwrap()
        .values()
        .map(|p| p.as_object().unwrap().len())
        .sum();
    assert_eq!(described, windrift_server::routes::all().len());
    assert!(document["openapi"].as_str().unwrap().starts_with("3.1"));
}

/// What the demo stands on is compiled with the features that the tests ask for: otherwise the first demo after the tests, and the first tests
/// after a demo, compile half of it anew. What differs is named in crates/server/Cargo.toml under "Not called".
#[test]
fn the_demo_shares_what_the_tests_compiled() {
    let tree = |more: &[&str]| -> std::collections::BTreeSet<String> {
        let output = Command::new(env!("CARGO"))
            .args(["tree", "--offline", "--prefix", "none", "-f", "{p} {f}"])
            .args(more)
            .current_dir(project())
            .output()
            .unwrap();
        assert!(output.status.success(), "{more:?}");
        let text = String::from_utf8(output.stdout).unwrap();
        text.lines()
            .map(|l| l.trim_end_matches(" (*)").to_owned())
            .collect()
    };
    let demo = tree(&["-p", "windrift-server", "-e", "normal,no-proc-macro"]);
    let tests = tree(&["--workspace", "-e", "normal,dev,no-proc-macro"]);
    assert!(demo.len() > 100, "{}", demo.len());
    let other: Vec<_> = demo.difference(&tests).collect();
    assert!(other.is_empty(), "{other:#?}");
}
