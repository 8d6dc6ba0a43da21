//! Features of a side: what a new one starts from, moving one by hand, copying one to the mirror side.

use kurbo::Vec2;
use rocket::data::Data;
use rocket::post;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::mm::printed;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::measure::{check_feature, measure};
use windrift_core::vehicle::quick::{self, Part};
use windrift_core::vehicle::snap::{MovedFeature, move_by};
use windrift_core::vehicle::start;
use windrift_core::vehicle::start::features::FormKind;
use windrift_store::edits::{Change, RowKind};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, make, require_room};
use crate::keys::key;
use crate::mirror::{as_measured_there, mirror_of, no_mirror};
use crate::planned::{SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_typed};
use crate::routes::Answer;
use crate::views::SideDrawing;

/// What kind of feature is wanted, measured how, and where.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct WantedFeature {
    /// What it is.
    pub kind: FeatureKind,
    /// How it is measured; the kind's usual way where nothing is said.
    #[serde(default)]
    pub form: Option<FormKind>,
    /// Where in the picture, mm; the middle where nothing is said.
    #[serde(default)]
    pub at: Option<[f64; 2]>,
}

/// A feature that is moved by hand.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct FeatureMove {
    /// The feature's key, so that it does not line up with itself.
    pub id: Uuid,
    /// What it was before the move.
    pub spec: Feature,
    /// To the picture's right, mm.
    pub right_mm: f64,
    /// Down, mm.
    pub down_mm: f64,
    /// Whether it takes the readings of what stands beside it.
    pub line_up: bool,
}

/// A feature after it was moved by hand. Nothing was written.
#[derive(Debug, Serialize, ToSchema)]
pub struct MovedFeatureView {
    /// Its new readings and what it lines up with.
    pub moved: MovedFeature,
    /// Its lengths as printed, by path of the field.
    pub printed: std::collections::BTreeMap<String, String>,
    /// How it is drawn, alone on the side.
    pub drawing: SideDrawing,
}

/// A copy to be made.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MirrorCopy {
    /// Key of the copy, made by the client.
    pub id: Uuid,
}

/// What a new feature starts from: a size that fits the side, near a place. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/features/start", params(("id" = Uuid, Path)), request_body = WantedFeature, responses((status = 200, body = Feature), (status = 404, body = Problem)))]
#[post("/sides/<id>/features/start", data = "<data>")]
pub async fn start_feature(desk: &Desk, id: &str, data: Data<'_>) -> Answer<Feature> {
    let rows = desk.side(key(id)?).await?;
    let wanted: WantedFeature = read_as(read_json(data).await?)?;
    let input = SideInput::of(&rows)?;
    let forms = start::features::forms_of(wanted.kind);
    let form = wanted
        .form
        .or(forms.first().copied())
        .unwrap_or(FormKind::Rectangle);
    if !forms.contains(&form) {
        return Err(Problem::input(
            "form",
            format!(
                "A {} is not measured like this. Choose another way.",
                wanted.kind.names().0
            ),
        ));
    }
    let at = wanted
        .at
        .map(|[x, y]| input.side.datum().read_plumb(kurbo::Point::new(x, y)));
    let there = start::features::feature(wanted.kind, form, &input.side, at, input.unit);
    // Where it does not fit at that place it starts in the middle.
    let fits = check_feature(&input.side, &there).is_ok();
    let feature = if fits {
        there
    } else {
        start::features::feature(wanted.kind, form, &input.side, None, input.unit)
    };
    Ok(Json(feature))
}

/// A line of quick words.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct QuickLine {
    /// The line as it was typed so far.
    pub words: String,
}

/// What a line of quick words was understood as. Nothing was written.
#[derive(Debug, Serialize, ToSchema)]
pub struct QuickView {
    /// The feature as far as the line goes.
    pub feature: Option<Feature>,
    /// The line, what is understood and what is not told apart.
    pub parts: Vec<Part>,
    /// What is not understood, or does not fit the side, and what to do.
    pub sentence: Option<String>,
    /// What its last word can be completed to.
    pub completions: Vec<String>,
    /// How it is drawn, alone on the side.
    pub drawing: Option<SideDrawing>,
}

/// Reads a feature from quick words, as they are typed. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/features/quick", params(("id" = Uuid, Path)), request_body = QuickLine, responses((status = 200, body = QuickView), (status = 404, body = Problem)))]
#[post("/sides/<id>/features/quick", data = "<data>")]
pub async fn quick_words(desk: &Desk, id: &str, data: Data<'_>) -> Answer<QuickView> {
    let rows = desk.side(key(id)?).await?;
    let line: QuickLine = read_as(read_json(data).await?)?;
    let input = SideInput::of(&rows)?;
    let quick = quick::read(&line.words, &input.side, input.unit);
    let mut sentence = quick.sentence;
    let drawing = match &quick.feature {
        Some(feature) => {
            let alone = SideFeature {
                id: rows.side.id,
                feature: feature.clone(),
            };
            match measure(&input.side, &[alone]) {
                Ok(drawn) => Some(SideDrawing::of(&drawn)),
                Err(error) => {
                    sentence.get_or_insert(error.sentence);
                    None
                }
            }
        }
        None => None,
    };
    let completions = quick::completions(&line.words)
        .into_iter()
        .map(str::to_owned)
        .collect();
    Ok(Json(QuickView {
        feature: quick.feature,
        parts: quick.parts,
        sentence,
        completions,
        drawing,
    }))
}

/// Moves a feature by hand: its readings end on whole steps, or on the readings of what stands beside it. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/features/move", params(("id" = Uuid, Path)), request_body = FeatureMove, responses((status = 200, body = MovedFeatureView), (status = 422, body = Problem)))]
#[post("/sides/<id>/features/move", data = "<data>")]
pub async fn move_feature(desk: &Desk, id: &str, data: Data<'_>) -> Answer<MovedFeatureView> {
    let rows = desk.side(key(id)?).await?;
    let body = read_json(data).await?;
    let asked: FeatureMove = read_typed(body, unit_of(&rows.job.unit)?)?;
    let input = SideInput::of(&rows)?;
    let before = SideFeature {
        id: asked.id,
        feature: asked.spec,
    };
    // Against the side alone: other features do not stop a move.
    let side = measure(&input.side, &[])?;
    let by = Vec2::new(asked.right_mm, asked.down_mm);
    let moved = move_by(
        &before,
        &side,
        &input.features,
        by,
        asked.line_up,
        input.unit,
    );
    let alone = SideFeature {
        id: asked.id,
        feature: moved.feature.clone(),
    };
    let drawn = measure(&input.side, &[alone])?;
    Ok(Json(MovedFeatureView {
        printed: printed(&moved.feature, input.unit),
        drawing: SideDrawing::of(&drawn),
        moved,
    }))
}

/// Copies a feature to the side that mirrors its own: the same distances from the front and from the rail.
#[utoipa::path(post, path = "/api/features/{id}/mirror", params(("id" = Uuid, Path)), request_body = MirrorCopy, responses((status = 200, body = windrift_store::edits::EditedRow), (status = 422, body = Problem)))]
#[post("/features/<id>/mirror", data = "<data>")]
pub async fn mirror_feature(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let copy: MirrorCopy = read_as(read_json(data).await?)?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let feature = key(id)?;
    let rows = desk.side_of_feature(feature).await?;
    let input = SideInput::of(&rows)?;
    let original = input
        .features
        .iter()
        .find(|f| f.id == feature)
        .ok_or(windrift_store::StoreError::NotFound("feature"))?;
    let job = desk.job(rows.job.id).await?;
    let (other, side) = mirror_of(&job.sides, &input.side).ok_or_else(no_mirror)?;
    require_room(other.features.len(), RowKind::Feature.most(), "features")?;
    let mirrored = as_measured_there(&original.feature, &input.side, &side)?;
    check_feature(&side, &mirrored)?;
    let spec = Kind::Feature.write(&mirrored)?;
    let change = Change::Add {
        parent: other.side.id,
        spec,
    };
    make(desk, &caller, RowKind::Feature, copy.id, change).await
}
