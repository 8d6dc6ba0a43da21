//! Routes, one module a subject. A route reads the request, asks the core, asks the store, and answers.

pub mod features;
pub mod hand_over;
pub mod hinge;
pub mod jobs;
pub mod outline_file;
pub mod photos;
pub mod record;
pub mod rows;
pub mod shop;
pub mod sides;
pub mod templates;
pub mod walk;

use windrift_core::settings::WorkSettings;
use windrift_store::Store;

use crate::problem::Problem;

/// An answer, or what went wrong.
pub type Answer<T> = Result<rocket::serde::json::Json<T>, Problem>;

/// The shop's settings, with the core's defaults for what it has not settled.
pub async fn settings(store: &Store) -> Result<WorkSettings, Problem> {
    Ok(serde_json::from_value(store.shop().await?.settings).unwrap_or_default())
}

/// Every API route.
pub fn all() -> Vec<rocket::Route> {
    rocket::routes![
        shop::shop,
        shop::start_shape,
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
        rows::remove_side,
        rows::remove_feature,
        rows::remove_piece,
        rows::undo,
        rows::redo,
        features::start_feature,
        features::move_feature,
        features::mirror_feature,
        outline_file::outline_file,
        outline_file::typed_readings,
        photos::keep_photo,
        photos::photo,
        photos::underlay,
        templates::templates,
        templates::keep_template,
        templates::read_template,
        templates::template_file,
        templates::remove_template,
        templates::template_schema,
        walk::walk_round,
        walk::add_entry,
        walk::walk_sheet,
        hinge::hinge_state,
        hinge::read_ends,
        hinge::lock_hinge,
        record::record,
        record::check_record,
        hand_over::issue_plan,
        hand_over::packet_pdf,
        hand_over::side_svg,
        hand_over::side_dxf,
        hand_over::piece_svg,
    ]
}
