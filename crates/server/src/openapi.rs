//! The OpenAPI 3.1 document, made from the routes and types.

use serde_json::{Value, json};
use utoipa::OpenApi;

use crate::routes::{hand_over, hinge, jobs, record, rows, shop, sides};

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Windrift",
        description = "Lays out and applies graphics to vehicles: measurements in, readings out. Changes carry Crew-Id, Edit-Id and If-Match headers. Any length field (`…_mm`) of a request may be typed as text, such as `27 3/4`."
    ),
    paths(
        shop::shop,
        shop::read_length,
        shop::health,
        shop::api_document,
        jobs::yard,
        jobs::start_job,
        jobs::job,
        sides::side,
        sides::evaluate,
        rows::add_side,
        rows::add_feature,
        rows::add_piece,
        rows::replace_side,
        rows::replace_feature,
        rows::replace_piece,
        rows::remove_feature,
        rows::remove_piece,
        rows::undo,
        rows::redo,
        hinge::hinge_state,
        hinge::read_ends,
        hinge::lock_hinge,
        record::record,
        record::check_record,
        hand_over::issue_plan,
        hand_over::packet_pdf,
        hand_over::side_svg,
        hand_over::piece_svg
    )
)]
struct Api;

/// Schemas that come in requests: their lengths may be typed as text.
const TYPED: [&str; 6] = ["BoxSide", "Feature", "Size", "Along", "Down", "NewReading"];

/// The document as JSON.
pub fn document() -> Value {
    let mut document = serde_json::to_value(Api::openapi()).unwrap_or_default();
    if let Some(schemas) = document
        .pointer_mut("/components/schemas")
        .and_then(Value::as_object_mut)
    {
        for name in TYPED {
            if let Some(schema) = schemas.get_mut(name) {
                allow_text(schema);
            }
        }
    }
    document
}

fn allow_text(schema: &mut Value) {
    match schema {
        Value::Object(fields) => {
            for (key, value) in fields.iter_mut() {
                if key.ends_with("_mm") && value.get("type") == Some(&json!("number")) {
                    if let Some(property) = value.as_object_mut() {
                        property.remove("format");
                        property.insert("type".into(), json!(["number", "string"]));
                    }
                } else {
                    allow_text(value);
                }
            }
        }
        Value::Array(items) => items.iter_mut().for_each(allow_text),
        _ => {}
    }
}
