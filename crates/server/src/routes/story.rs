//! The story tape of a side, and both sides of a vehicle beside each other.

use rocket::get;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::plan::story::{BothSides, Story, both_sides, stories};
use windrift_formats::story::{StorySheet, write_list, write_strip};

use crate::both::{Both, both};
use crate::desk::Desk;
use crate::file::{File, paper_of};
use crate::keys::{for_whom, key};
use crate::planned::PlannedSide;
use crate::problem::Problem;
use crate::routes::Answer;

/// The story tape of a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct StoryView {
    /// One for each datum that a piece hangs on.
    pub stories: Vec<Story>,
    /// What the other side is called; nothing where there is none.
    pub other_side: Option<String>,
    /// Each piece with its twin there.
    pub both: Vec<BothSides>,
}

/// Every mark along each datum as a running distance, the gaps between pieces, and both sides' figures with their difference.
#[utoipa::path(get, path = "/api/sides/{id}/story", params(("id" = uuid::Uuid, Path)), responses((status = 200, body = StoryView), (status = 404, body = Problem)))]
#[get("/sides/<id>/story")]
pub async fn story(desk: &Desk, id: &str) -> Answer<StoryView> {
    let Both {
        ways, here, other, ..
    } = both(desk, key(id)?).await?;
    Ok(Json(StoryView {
        stories: stories(&here.plan, &ways, here.input.unit),
        both: other.as_ref().map_or_else(Vec::new, |(_, there)| {
            both_sides(&here.plan, &there.plan, &ways, here.input.unit)
        }),
        other_side: other.map(|(name, _)| name),
    }))
}

/// The story tape to print: as a list, or as a strip at full size over several pages.
#[utoipa::path(get, path = "/api/sides/{id}/story.pdf", params(("id" = uuid::Uuid, Path), ("paper" = Option<String>, Query, description = "letter or a4"), ("strip" = Option<bool>, Query, description = "At full size, to be cut and joined")), responses((status = 200, content_type = "application/pdf"), (status = 422, body = Problem)))]
#[get("/sides/<id>/story.pdf?<paper>&<strip>")]
pub async fn story_sheet(
    desk: &Desk,
    id: &str,
    paper: Option<&str>,
    strip: Option<bool>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let shop = desk.shop().await?.name;
    let Both {
        rows,
        ways: settings,
        here,
        ..
    } = both(desk, key(id)?).await?;
    let PlannedSide { input, plan } = here.as_ref();
    let stories = stories(plan, &settings, input.unit);
    if stories.is_empty() {
        return Err(Problem::input(
            "story",
            "Nothing is laid out on this side yet. Add a piece first.",
        ));
    }
    let side = input.side.name(settings.side_words);
    let sheet = StorySheet {
        shop: &shop,
        title: &rows.job.title,
        customer: &for_whom(&rows.job),
        side: &side,
        unit: input.unit,
        stories: &stories,
    };
    let strip = strip.unwrap_or(false);
    let bytes = if strip {
        write_strip(&sheet, paper)
    } else {
        write_list(&sheet, paper)
    }
    .map_err(|e| Problem::input("story", e.to_string()))?;
    let name = format!(
        "{} {side} story {}",
        rows.job.title,
        if strip { "strip" } else { "list" }
    );
    Ok(File::new(bytes, ContentType::PDF, &name, "pdf"))
}
