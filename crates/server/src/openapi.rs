//! The OpenAPI 3.1 document, made from the routes and types.

use serde_json::{Value, json};

use crate::routes;

/// The document as JSON.
pub fn document() -> Value {
    let mut document = serde_json::to_value(routes::described()).unwrap_or_default();
    if let Some(paths) = document["paths"].as_object_mut() {
        for (path, operations) in paths {
            let operations = operations.as_object_mut().into_iter().flatten();
            for (method, operation) in operations {
                say_every_status(path, method, operation);
            }
        }
    }
    document
}

/// Statuses that any answer may have, with what they mean.
const ANYWHERE: [(u16, &str); 7] = [
    (
        401,
        "Nobody is signed in on this device, or not the person who is named",
    ),
    (403, "Whoever asks may not do this, or another page asked"),
    (404, "It is not there, or somebody removed it"),
    (421, "The server is not called by this name"),
    (
        422,
        "What was given cannot be used, or is more than can be worked out at once",
    ),
    (
        500,
        "Windrift made a mistake, or what is kept cannot be read; nothing was changed",
    ),
    (
        503,
        "The database is away, or Windrift is busy; nothing was lost",
    ),
];
/// Those of requests that carry something or change something.
const CHANGES: [(u16, &str); 6] = [
    (400, "The request cannot be read"),
    (408, "It came in too slowly"),
    (
        409,
        "Somebody changed it since, the key stands for something else, or something hangs on it",
    ),
    (413, "It is too large"),
    (415, "JSON is sent as JSON, a file as a file"),
    (428, "The revision that was seen is missing"),
];

/// Whatever a route itself says, an operation names every status that its answers can have.
fn say_every_status(path: &str, method: &str, operation: &mut Value) {
    let Some(responses) = operation["responses"].as_object_mut() else {
        return;
    };
    // Asked of nobody and worked out of nothing that could be missing.
    let plain = ["/api/openapi.json", "/api/schemas/side-template.json"].contains(&path);
    let changes = if method == "get" {
        &CHANGES[..0]
    } else {
        &CHANGES[..]
    };
    for (status, says) in ANYWHERE.iter().chain(changes) {
        if plain && *status != 421 {
            continue;
        }
        let problem = json!({
            "description": says,
            "content": { "application/problem+json": { "schema": { "$ref": "#/components/schemas/Problem" } } },
        });
        responses.insert(status.to_string(), problem);
    }
}

/// The JSON Schema (2020-12) of a side template, made from the same types: OpenAPI 3.1 schemas are JSON Schemas.
pub fn template_schema() -> Value {
    schema_of("SideTemplate", "side-template", "Windrift side template")
}

/// The JSON Schema (2020-12) of a film with its data sheet.
pub fn film_schema() -> Value {
    schema_of("StockedFilm", "film", "Windrift film with its data sheet")
}

/// The JSON Schema (2020-12) of the first file of a job bundle.
pub fn bundle_schema() -> Value {
    schema_of(
        "JobBundle",
        "job-bundle",
        "Windrift job bundle, bundle.json",
    )
}

fn schema_of(name: &str, urn: &str, title: &str) -> Value {
    let document = serde_json::to_value(routes::described()).unwrap_or_default();
    let schemas = document
        .pointer("/components/schemas")
        .cloned()
        .unwrap_or_default();
    // What it needs, and what that needs.
    let mut wanted = vec![name.to_owned()];
    let mut defs = serde_json::Map::new();
    while let Some(name) = wanted.pop() {
        if defs.contains_key(&name) {
            continue;
        }
        let mut schema = schemas.get(&name).cloned().unwrap_or_default();
        point_at_defs(&mut schema, &mut wanted);
        defs.insert(name, schema);
    }
    // It travels between shops with different tapes: its lengths are millimetres, never text.
    for length in ["Mm", "SignedMm"] {
        if let Some(def) = defs.get_mut(length) {
            def["type"] = json!("number");
        }
    }
    json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": format!("urn:windrift:{urn}:1"),
        "title": title,
        "$ref": format!("#/$defs/{name}"),
        "$defs": defs,
    })
}

fn point_at_defs(schema: &mut Value, wanted: &mut Vec<String>) {
    match schema {
        Value::Object(fields) => {
            for (key, value) in fields.iter_mut() {
                if key == "$ref"
                    && let Some(name) = value
                        .as_str()
                        .and_then(|r| r.strip_prefix("#/components/schemas/"))
                        .map(str::to_owned)
                {
                    *value = json!(format!("#/$defs/{name}"));
                    wanted.push(name);
                } else {
                    point_at_defs(value, wanted);
                }
            }
        }
        Value::Array(items) => items.iter_mut().for_each(|v| point_at_defs(v, wanted)),
        _ => {}
    }
}
