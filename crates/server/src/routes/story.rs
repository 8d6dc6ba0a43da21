//! The story tape of a side, and both sides of a vehicle beside each other.

use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{State, get};
use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::plan::SidePlan;
use windrift_core::story::{BothSides, Story, both_sides, stories};
use windrift_formats::story::{StorySheet, write_list, write_strip};
use windrift_store::{SideRows, Store};

use super::hand_over::{File, paper_of};
use super::jobs::key;
use super::{Answer, settings};
use crate::problem::Problem;
use crate::views::SideInput;

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

/// A side with its job's other sides, planned.
pub(super) async fn plans(
    store: &Store,
    id: &str,
) -> Result<(SideRows, SideInput, SidePlan, Option<(String, SidePlan)>), Problem> {
    let rows = store.side(key(id)?).await?;
    let settings = settings(store).await?;
    let job = store.job(rows.job.id).await?;
    let input = SideInput::of(&rows)?.among(&job.sides);
    let plan = input.plan(&settings)?;
    let mut other = None;
    for sibling in &job.sides {
        let there = SideInput::of(sibling)?;
        if input.side.kind.mirror() == Some(there.side.kind)
            && there.side.facing != input.side.facing
        {
            let there = there.among(&job.sides);
            other = Some((there.side.name(settings.side_words), there.plan(&settings)?));
            break;
        }
    }
    Ok((rows, input, plan, other))
}

/// Every mark along each datum as a running distance, the gaps between pieces, and both sides' figures with their difference.
#[utoipa::path(get, path = "/api/sides/{id}/story", params(("id" = uuid::Uuid, Path)), responses((status = 200, body = StoryView), (status = 404, body = Problem)))]
#[get("/sides/<id>/story")]
pub async fn story(store: &State<Store>, id: &str) -> Answer<StoryView> {
    let settings = settings(store).await?;
    let (_, input, plan, other) = plans(store, id).await?;
    Ok(Json(StoryView {
        stories: stories(&plan, &settings, input.unit),
        both: other.as_ref().map_or_else(Vec::new, |(_, there)| {
            both_sides(&plan, there, &settings, input.unit)
        }),
        other_side: other.map(|(name, _)| name),
    }))
}

/// The story tape to print: as a list, or as a strip at full size over several pages.
#[utoipa::path(get, path = "/api/sides/{id}/story.pdf", params(("id" = uuid::Uuid, Path), ("paper" = Option<String>, Query, description = "letter or a4"), ("strip" = Option<bool>, Query, description = "At full size, to be cut and joined")), responses((status = 200, content_type = "application/pdf"), (status = 422, body = Problem)))]
#[get("/sides/<id>/story.pdf?<paper>&<strip>")]
pub async fn story_sheet(
    store: &State<Store>,
    id: &str,
    paper: Option<&str>,
    strip: Option<bool>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let shop = store.shop().await?.name;
    let settings = settings(store).await?;
    let (rows, input, plan, _) = plans(store, id).await?;
    let stories = stories(&plan, &settings, input.unit);
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
        customer: &rows.job.customer,
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
