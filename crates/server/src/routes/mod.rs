//! Routes, one module a subject. A route reads the request, asks the core, asks the store, and answers.

pub mod artwork;
pub mod bays;
pub mod bundles;
pub mod by_when;
pub mod call_backs;
pub mod care;
pub mod crew;
pub mod features;
pub mod film;
pub mod final_look;
pub mod forming;
pub mod hand_over;
pub mod heat;
pub mod hinge;
pub mod jobs;
pub mod marking;
pub mod marking_shop;
pub mod outline_file;
pub mod panels;
pub mod photos;
pub mod prep;
pub mod record;
pub mod rolls;
pub mod rows;
pub mod same_side;
pub mod shelf;
pub mod shop;
pub mod sides;
pub mod spots;
pub mod story;
pub mod strip;
pub mod supplies;
pub mod templates;
pub mod undo;
pub mod walk;
pub mod work;

use utoipa::OpenApi;

use crate::problem::Problem;

/// An answer, or what went wrong.
pub type Answer<T> = Result<rocket::serde::json::Json<T>, Problem>;

/// The routes, each once: what is served and what the document describes are made from this one list.
macro_rules! routes {
    ($($module:ident::$route:ident),* $(,)?) => {
        /// Every API route.
        pub fn all() -> Vec<rocket::Route> {
            rocket::routes![$($module::$route),*]
        }

        #[derive(OpenApi)]
        #[openapi(
            info(
                title = "Windrift",
                description = "Lays out and applies graphics to vehicles: measurements in, readings out. Changes carry Crew-Id, Edit-Id and If-Match headers. Any length field (`Mm`, `SignedMm`) of a request may be typed as text, such as `27 3/4`."
            ),
            // Words of queries and files, which no body names.
            components(schemas(windrift_store::undo::InTheWay, crate::bundle::JobBundle)),
            paths($($module::$route),*)
        )]
        struct Described;
    };
}

routes![
    shop::shop,
    crew::first_shop,
    crew::put_crew,
    shop::start_shape,
    shop::set_words,
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
    spots::spots,
    spots::move_together,
    story::story,
    story::story_sheet,
    same_side::same_side,
    same_side::take_over,
    artwork::regulated_mark,
    artwork::first_of_kind,
    artwork::kit_file,
    artwork::add_pieces,
    artwork::mirror_pieces,
    artwork::stripe_run,
    artwork::replace_settings,
    artwork::add_typeface,
    artwork::remove_typeface,
    undo::undo,
    undo::redo,
    features::start_feature,
    features::quick_words,
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
    bundles::job_bundle,
    bundles::take_bundle,
    bundles::verify_bundle,
    call_backs::call_backs,
    call_backs::add_call_back,
    care::job_care,
    final_look::side_final_look,
    care::care_page,
    care::care_calendar,
    care::mail_care,
    hinge::hinge_state,
    hinge::read_ends,
    hinge::lock_hinge,
    marking::marking,
    marking::try_marking,
    marking::keep_marking,
    marking::remove_marking,
    marking::keep_vehicle,
    marking::record_audit,
    marking::marking_report,
    marking::tapes_give,
    marking::other_sides,
    marking::strips_svg,
    marking::strips_dxf,
    marking_shop::rule_sets,
    marking_shop::correct_figure,
    marking_shop::tapes,
    marking_shop::add_tape,
    marking_shop::remove_tape,
    strip::strip,
    strip::add_strip_entry,
    heat::heat,
    heat::add_heat_entry,
    prep::prep,
    prep::add_prep_entry,
    prep::job_bay,
    prep::add_bay_entry,
    bays::devices,
    bays::make_device,
    bays::withdraw_device,
    bays::readings,
    bays::device_readings,
    forming::forming,
    by_when::job_by_when,
    by_when::settle_by_when,
    supplies::supplies,
    supplies::add_supply,
    supplies::change_supply,
    supplies::remove_supply,
    shelf::shelf,
    shelf::add_film,
    shelf::change_film,
    shelf::remove_film,
    shelf::film_sheet,
    shelf::film_schema,
    shelf::add_roll,
    shelf::remove_roll,
    shelf::wound,
    shelf::full_roll,
    shelf::measured_roll,
    shelf::shelf_as_csv,
    shelf::shelf_from_csv,
    film::job_film,
    film::films_for,
    panels::piece_panels,
    panels::panel_map_file,
    panels::panel_file,
    panels::into_panels,
    rolls::nest,
    rolls::cut,
    film::to_order,
    film::to_order_csv,
    work::hang,
    work::lay_down,
    work::press,
    work::remedies,
    work::floor_entry,
    work::read_upright,
    work::stroke_sheet,
    record::record,
    record::check_record,
    hand_over::issue_plan,
    hand_over::packet_pdf,
    hand_over::side_svg,
    hand_over::side_dxf,
    hand_over::piece_svg,
];

/// What the routes say of themselves, as they say it.
pub fn described() -> utoipa::openapi::OpenApi {
    Described::openapi()
}
