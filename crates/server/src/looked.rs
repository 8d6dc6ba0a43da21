//! The final look: what is looked at once more on each piece that lies, and what was.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::final_look::{Look, final_look};
use windrift_core::plan::planned::PlannedPiece;
use windrift_store::EntryKind;

use crate::bays::done_at;
use crate::desk::Desk;
use crate::entries::floor_note::FloorNote;
use crate::planned::unit_of;
use crate::problem::Problem;

/// Most entries of the floor that are looked at.
const MOST: u64 = 20_000;

/// Something that is looked at, and whether it was.
#[derive(Debug, Serialize, ToSchema)]
pub struct LookView {
    /// What.
    #[serde(flatten)]
    pub look: Look,
    /// Who found it right, and when; nothing while nobody did.
    pub right: Option<String>,
}

/// A piece's final look.
#[derive(Debug, Serialize, ToSchema)]
pub struct PieceLook {
    /// The piece.
    pub piece: Uuid,
    /// What it is called.
    pub called: String,
    /// What is looked at, in walking order; nothing while it does not lie.
    pub looks: Vec<LookView>,
}

/// The final look of a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct FinalLookView {
    /// Its pieces.
    pub pieces: Vec<PieceLook>,
    /// Of how many looks nobody has said that it is right.
    pub open: u32,
}

/// How the final look of a side stands.
pub(crate) async fn looked(desk: &Desk, side: Uuid) -> Result<FinalLookView, Problem> {
    let rows = desk.side(side).await?;
    let ways = desk.ways().await?;
    let job = desk.job(rows.job.id).await?;
    let planned = desk.planned(&job, side, &ways).await?;
    let unit = unit_of(&job.job.unit)?;
    // A piece that was laid anew is looked at anew.
    let mut laid: BTreeMap<Uuid, time::OffsetDateTime> = BTreeMap::new();
    for e in desk
        .record_of_kind(job.job.id, EntryKind::Laid, MOST)
        .await?
    {
        if let Some(piece) = e.piece {
            laid.insert(piece, done_at(&e));
        }
    }
    let crew = desk.crew().await?;
    let mut right: BTreeMap<(Uuid, String), String> = BTreeMap::new();
    for e in desk
        .record_of_kind(job.job.id, EntryKind::Floor, MOST)
        .await?
    {
        let at = done_at(&e);
        let Some(piece) = e.piece.filter(|p| laid.get(p).is_some_and(|l| at >= *l)) else {
            continue;
        };
        match serde_json::from_value(e.body) {
            Ok(FloorNote::Looked { look }) => {
                let by = crew.iter().find(|c| c.id == e.crew);
                let by = by.map_or("somebody", |c| c.name.as_str());
                right.insert((piece, look), format!("{by}, {}", ways.zone.in_words(at)));
            }
            // Something was found there since: whatever was right may not be any more.
            Ok(FloorNote::Trouble { .. }) => right.retain(|(p, _), _| *p != piece),
            _ => {}
        }
    }
    let pieces: Vec<PieceLook> = desk
        .compute(move || {
            let plan = &planned.plan;
            let of = |p: &PlannedPiece| PieceLook {
                piece: p.id,
                called: p.piece.called(),
                looks: match laid.contains_key(&p.id) {
                    false => Vec::new(),
                    true => final_look(p, &plan.side, &ways, unit)
                        .into_iter()
                        .map(|look| LookView {
                            right: right.get(&(p.id, look.key.clone())).cloned(),
                            look,
                        })
                        .collect(),
                },
            };
            plan.pieces.iter().map(of).collect()
        })
        .await?;
    let looks = pieces.iter().flat_map(|p| &p.looks);
    Ok(FinalLookView {
        open: looks.filter(|l| l.right.is_none()).count() as u32,
        pieces,
    })
}
