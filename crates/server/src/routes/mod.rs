//! Routes, one module a subject. A route reads the request, asks the core, asks the store, and answers.

pub mod artwork;
pub mod bays;
pub mod bundles;
pub mod by_when;
pub mod call_backs;
pub mod care;
pub mod crew;
pub mod crew_access;
pub mod features;
pub mod film;
pub mod final_look;
pub mod forming;
pub mod hand_over;
pub mod heat;
pub mod hinge;
pub mod jobs;
pub mod kit_file;
pub mod links;
pub mod live;
pub mod marking;
pub mod marking_shop;
pub mod marking_tape;
pub mod outline_file;
pub mod own;
pub mod panels;
pub mod photos;
pub mod prep;
pub mod record;
pub mod removals;
pub mod rolls;
pub mod rows;
pub mod same_side;
pub mod shelf;
pub mod shop;
pub mod sides;
pub mod sign_in;
pub mod spots;
pub mod steps;
pub mod story;
pub mod strip;
pub mod supplies;
pub mod templates;
pub mod thermometers;
pub mod undo;
pub mod walk;
pub mod work;

use utoipa::OpenApi;

use crate::access::{Gate, Need};
use crate::problem::Problem;

/// An answer, or what went wrong.
pub type Answer<T> = Result<rocket::serde::json::Json<T>, Problem>;

/// The routes, each once: what is served, who may ask for it, and what the document describes are made from this one list.
macro_rules! routes {
    ($($need:ident: [$($module:ident::$route:ident),* $(,)?]),* $(,)?) => {
        /// Every API route, each behind its gate.
        pub fn all() -> Vec<rocket::Route> {
            let mut all = Vec::new();
            $(all.extend(
                rocket::routes![$($module::$route),*]
                    .into_iter()
                    .map(|route| Gate::before(route, Need::$need)),
            );)*
            all
        }

        /// Who may ask what: method, address and need of each route.
        pub fn needs() -> Vec<(rocket::http::Method, String, Need)> {
            let mut all = Vec::new();
            $(all.extend(
                rocket::routes![$($module::$route),*]
                    .into_iter()
                    .map(|route| (route.method, route.uri.to_string(), Need::$need)),
            );)*
            all
        }

        #[derive(OpenApi)]
        #[openapi(
            info(
                title = "Windrift",
                description = "Lays out and applies graphics to vehicles: measurements in, readings out. Whoever asks is signed in: a cookie says on which device, and Crew-Id who of the people on it. Changes carry Crew-Id, Edit-Id and If-Match headers. Any length field (`Mm`, `SignedMm`) of a request may be typed as text, such as `27 3/4`."
            ),
            // Words of queries and files, which no body names.
            components(schemas(windrift_store::undo::InTheWay, crate::bundle::JobBundle)),
            paths($($($module::$route),*),*)
        )]
        struct Described;
    };
}

routes![
    // Whoever can reach the server: what a page needs before anybody is signed in, devices, which show a key, and holders of links.
    Open: [
        crew::first_shop,
        shop::health,
        shop::ready,
        shop::metrics,
        shop::api_document,
        templates::template_schema,
        bays::readings,
        thermometers::heat_readings,
        shelf::film_schema,
        sign_in::door,
        sign_in::sign_in,
        sign_in::sign_out,
        links::shared_job,
        walk::shared_walk_round,
        walk::shared_sign,
        care::shared_care,
        photos::shared_photo,
        hand_over::shared_packet,
    ],
    // Looks, tries out and prints.
    Viewer: [
        sign_in::me,
        live::live,
        live::here,
        live::left,
        links::job_links,
        sign_in::join,
        own::sessions,
        own::end_session,
        own::own_passphrase,
        own::own_pin,
        shop::shop,
        shop::start_shape,
        shop::set_words,
        shop::read_length,
        jobs::yard,
        jobs::job,
        sides::side,
        sides::evaluate,
        spots::spots,
        story::story,
        story::story_sheet,
        same_side::same_side,
        artwork::regulated_mark,
        artwork::first_of_kind,
        kit_file::kit_file,
        features::start_feature,
        features::quick_words,
        features::move_feature,
        outline_file::outline_file,
        outline_file::typed_readings,
        photos::photo,
        photos::underlay,
        templates::templates,
        templates::template_file,
        walk::walk_round,
        walk::walk_sheet,
        bundles::job_bundle,
        bundles::verify_bundle,
        call_backs::call_backs,
        care::job_care,
        removals::removals,
        final_look::side_final_look,
        care::care_page,
        care::care_calendar,
        hinge::hinge_state,
        hinge::readings_ahead,
        marking::marking,
        marking::try_marking,
        marking::marking_report,
        marking::tapes_give,
        marking::other_sides,
        marking::strips_svg,
        marking::strips_dxf,
        marking_tape::marking_tape,
        marking_shop::rule_sets,
        marking_shop::tapes,
        strip::strip,
        strip::earlier_film,
        heat::heat,
        prep::prep,
        prep::job_bay,
        bays::devices,
        bays::device_readings,
        thermometers::thermometers,
        forming::forming,
        by_when::job_by_when,
        steps::job_steps,
        supplies::supplies,
        shelf::shelf,
        shelf::film_sheet,
        shelf::wound,
        shelf::full_roll,
        shelf::shelf_as_csv,
        film::job_film,
        film::films_for,
        panels::piece_panels,
        panels::panel_map_file,
        panels::panel_file,
        rolls::nest,
        film::to_order,
        film::to_order_csv,
        work::hang,
        work::lay_down,
        work::press,
        work::remedies,
        work::stroke_sheet,
        record::record,
        record::check_record,
        hand_over::plans,
        hand_over::packet_pdf,
        hand_over::side_svg,
        hand_over::side_dxf,
        hand_over::piece_svg,
    ],
    // Records, measures and changes the work.
    Fitter: [
        jobs::start_job,
        jobs::copy_job,
        jobs::name_job,
        jobs::finish_job,
        jobs::reopen_job,
        links::make_link,
        links::withdraw_link,
        rows::add_side,
        rows::add_feature,
        rows::add_piece,
        rows::replace_side,
        rows::replace_feature,
        rows::replace_piece,
        rows::remove_side,
        rows::remove_feature,
        rows::remove_piece,
        spots::move_together,
        same_side::take_over,
        artwork::add_pieces,
        artwork::mirror_pieces,
        artwork::stripe_run,
        artwork::add_typeface,
        undo::undo,
        undo::redo,
        features::mirror_feature,
        photos::keep_photo,
        templates::keep_template,
        templates::read_template,
        templates::remove_template,
        walk::add_entry,
        bundles::take_bundle,
        call_backs::add_call_back,
        care::mail_care,
        removals::film_off,
        hinge::read_ends,
        hinge::lock_hinge,
        marking::keep_marking,
        marking::remove_marking,
        marking::keep_vehicle,
        marking::record_audit,
        marking_tape::cut_tape,
        marking_shop::add_tape,
        marking_shop::remove_tape,
        strip::add_strip_entry,
        heat::add_heat_entry,
        prep::add_prep_entry,
        prep::add_bay_entry,
        by_when::settle_by_when,
        supplies::add_supply,
        supplies::change_supply,
        supplies::remove_supply,
        shelf::add_film,
        shelf::change_film,
        shelf::remove_film,
        shelf::add_roll,
        shelf::remove_roll,
        shelf::measured_roll,
        shelf::shelf_from_csv,
        panels::into_panels,
        film::same_film,
        rolls::cut,
        work::floor_entry,
        work::read_upright,
        hand_over::issue_plan,
    ],
    // Settles the shop's figures, and who may come in.
    Lead: [
        crew_access::crew_access,
        crew_access::crew_code,
        crew_access::shut_out,
        crew_access::audit,
        links::all_links,
        crew::put_crew,
        artwork::replace_settings,
        artwork::remove_typeface,
        marking_shop::correct_figure,
        bays::make_device,
        bays::withdraw_device,
    ],
];

/// What the routes say of themselves, as they say it.
pub fn described() -> utoipa::openapi::OpenApi {
    Described::openapi()
}
