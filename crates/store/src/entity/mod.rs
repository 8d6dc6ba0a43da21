//! Tables as rows of Rust. Columns are explained in docs/DATA.md.

macro_rules! table {
    ($module:ident, $table:literal, { $($(#[$meta:meta])* $field:ident : $type:ty),* $(,)? }) => {
        #[allow(missing_docs)]
        pub mod $module {
            use sea_orm::entity::prelude::*;

            #[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
            #[sea_orm(table_name = $table)]
            pub struct Model {
                $($(#[$meta])* pub $field: $type,)*
            }

            #[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
            pub enum Relation {}

            impl ActiveModelBehavior for ActiveModel {}
        }
    };
}

table!(crew, "crew", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    name: String,
    role: String,
    position: i32,
});

table!(shop, "shop", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: i32,
    name: String,
    #[sea_orm(column_type = "JsonBinary")]
    settings: Json,
    revision: i32,
    crew_id: Option<Uuid>,
});

table!(job, "job", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    revision: i32,
    customer: String,
    title: String,
    vehicle_kind: String,
    unit: String,
    created_at: TimeDateTimeWithTimeZone,
    created_by: Uuid,
    plate: Option<String>,
});

table!(side, "side", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    parent_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(feature, "feature", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    parent_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(piece, "piece", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    parent_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(hinge_lock, "hinge_lock", {
    #[sea_orm(primary_key, auto_increment = false)]
    piece_id: Uuid,
    piece_revision: i32,
    side_revision: i32,
    seq: i64,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    #[sea_orm(column_type = "JsonBinary", nullable)]
    hangs_at: Option<Json>,
});

table!(record, "record", {
    #[sea_orm(primary_key, auto_increment = false)]
    job_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    seq: i64,
    id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    kind: String,
    piece_id: Option<Uuid>,
    bytes: Vec<u8>,
    previous: Vec<u8>,
    hash: Vec<u8>,
});

table!(edit, "edit", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    job_id: Uuid,
    crew_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    kind: String,
    row_id: Uuid,
    parent_id: Uuid,
    #[sea_orm(column_type = "JsonBinary", nullable)]
    before: Option<Json>,
    #[sea_orm(column_type = "JsonBinary", nullable)]
    after: Option<Json>,
    left_revision: i32,
    undone: bool,
    number: i64,
    batch: Option<Uuid>,
    passed: bool,
});

table!(edit_step, "edit_step", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    job_id: Uuid,
    crew_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    back: bool,
    #[sea_orm(column_type = "JsonBinary")]
    answered: Json,
});

table!(photo, "photo", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    job_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    width: i32,
    height: i32,
    jpeg: Vec<u8>,
    small: Vec<u8>,
});

table!(side_template, "side_template", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    name: String,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(typeface, "typeface", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    name: String,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    file: Vec<u8>,
    retired: bool,
    hash: Vec<u8>,
});

table!(plan, "plan", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    job_id: Uuid,
    number: i32,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    #[sea_orm(column_type = "JsonBinary")]
    revisions: Json,
    #[sea_orm(column_type = "JsonBinary")]
    snapshot: Json,
    hash: Option<Vec<u8>>,
});

table!(marked_vehicle, "marked_vehicle", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    parent_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(marking, "marking", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    parent_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(figure_correction, "figure_correction", {
    #[sea_orm(primary_key, auto_increment = false)]
    rule_set: String,
    #[sea_orm(primary_key, auto_increment = false)]
    key: String,
    value: f64,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
});

table!(tape, "tape", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    name: String,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
    retired: bool,
});

table!(film, "film", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
    retired: bool,
});

table!(roll, "roll", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    film_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
    left_mm: f64,
    retired: bool,
});

table!(roll_entry, "roll_entry", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    roll_id: Uuid,
    job_id: Option<Uuid>,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    kind: String,
    length_mm: Option<f64>,
    left_mm: f64,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(supply, "supply", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    revision: i32,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
    retired: bool,
});

table!(print_art, "print_art", {
    #[sea_orm(primary_key, auto_increment = false)]
    photo_id: Uuid,
    kind: String,
    bytes: Vec<u8>,
});

table!(fitting, "fitting", {
    #[sea_orm(primary_key, auto_increment = false)]
    job_id: Uuid,
    revision: i32,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    #[sea_orm(column_type = "JsonBinary")]
    spec: Json,
});

table!(device, "device", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    bay: String,
    name: String,
    key_hash: Vec<u8>,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
    withdrawn: bool,
    reads: String,
});

table!(device_reading, "device_reading", {
    #[sea_orm(primary_key, auto_increment = false)]
    device_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    at: TimeDateTimeWithTimeZone,
    received: TimeDateTimeWithTimeZone,
    celsius: f64,
    humidity: f64,
    surface: Option<f64>,
});

table!(removal, "removal", {
    #[sea_orm(primary_key, auto_increment = false)]
    job_id: Uuid,
    seq: i64,
    due: Option<TimeDateTimeWithTimeZone>,
    says: String,
    why: String,
    off_at: Option<TimeDateTimeWithTimeZone>,
    off_by: Option<Uuid>,
});

table!(heat_reading, "heat_reading", {
    #[sea_orm(primary_key, auto_increment = false)]
    device_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    at: TimeDateTimeWithTimeZone,
    seq: i64,
    celsius: f64,
    believed: bool,
});

table!(passphrase, "passphrase", {
    #[sea_orm(primary_key, auto_increment = false)]
    crew_id: Uuid,
    hash: String,
    once: bool,
    expires: Option<TimeDateTimeWithTimeZone>,
    at: TimeDateTimeWithTimeZone,
});

table!(pin, "pin", {
    #[sea_orm(primary_key, auto_increment = false)]
    crew_id: Uuid,
    hash: String,
    at: TimeDateTimeWithTimeZone,
});

table!(session, "session", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    token_hash: Vec<u8>,
    floor: bool,
    device: String,
    at: TimeDateTimeWithTimeZone,
    seen: TimeDateTimeWithTimeZone,
    expires: TimeDateTimeWithTimeZone,
    ended: Option<TimeDateTimeWithTimeZone>,
});

table!(session_crew, "session_crew", {
    #[sea_orm(primary_key, auto_increment = false)]
    session_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    crew_id: Uuid,
    at: TimeDateTimeWithTimeZone,
});

table!(guess, "guess", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    name: String,
    address: String,
    at: TimeDateTimeWithTimeZone,
    was_right: bool,
});

table!(audit, "audit", {
    #[sea_orm(primary_key)]
    n: i64,
    at: TimeDateTimeWithTimeZone,
    kind: String,
    crew_id: Option<Uuid>,
    about: String,
    address: String,
});

table!(presence, "presence", {
    #[sea_orm(primary_key, auto_increment = false)]
    session_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    crew_id: Uuid,
    job_id: Uuid,
    side_id: Uuid,
    stage: String,
    at: TimeDateTimeWithTimeZone,
});

table!(link, "link", {
    #[sea_orm(primary_key, auto_increment = false)]
    id: Uuid,
    job_id: Uuid,
    token_hash: Vec<u8>,
    whom: String,
    crew_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    expires: TimeDateTimeWithTimeZone,
    opened: Option<TimeDateTimeWithTimeZone>,
    withdrawn: bool,
});

table!(finished_job, "finished_job", {
    #[sea_orm(primary_key, auto_increment = false)]
    job_id: Uuid,
    at: TimeDateTimeWithTimeZone,
    crew_id: Uuid,
});
