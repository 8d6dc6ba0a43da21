//! The walk round of a job as it stands, for its own screen and paper, and for the stages that ask what was there before.

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::print;
use windrift_core::vehicle::walk_round::{
    Damage, Found, HardwareLine, SignOff, WalkEntry, WalkRound, hardware_list, stand,
};
use windrift_store::{EntryKind, JobRows, RecordEntry};

use crate::desk::Desk;
use crate::planned::{PlannedSide, unit_of};
use crate::problem::{Problem, UNREADABLE};
use crate::views::parts_of;
use crate::ways::Ways;

/// Most entries of one walk round.
pub(crate) const MOST_ENTRIES: u64 = 3_000;

/// How the walk round of a job stands.
pub(crate) async fn walk_round_of(desk: &Desk, job: Uuid) -> Result<WalkRound, Problem> {
    Ok(walked(desk, job).await?.round)
}

/// Damage that stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct DamageView {
    /// The entry's id.
    pub entry: Uuid,
    /// Its number on its side, from 1.
    pub number: u32,
    /// What was found.
    pub damage: Damage,
    /// What it is called.
    pub name: String,
    /// Where it is in the picture, mm.
    pub at: [f64; 2],
    /// How far back, printed.
    pub back: String,
    /// How far down, printed.
    pub drop: String,
    /// How large, printed.
    pub size: String,
    /// Who found it.
    pub who: String,
    /// When, in words.
    pub when: String,
    /// Why it was struck; nothing where it stands.
    pub struck: Option<String>,
}

/// A doubt about paint that stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct DoubtView {
    /// The entry's id.
    pub entry: Uuid,
    /// What is doubted.
    pub note: String,
    /// Who doubts.
    pub who: String,
}

/// A photo of a side before work.
#[derive(Debug, Serialize, ToSchema)]
pub struct SidePhotoView {
    /// The entry's id.
    pub entry: Uuid,
    /// The photo's key.
    pub photo: Uuid,
    /// What it shows.
    pub note: String,
}

/// The walk round of one side.
#[derive(Debug, Serialize, ToSchema)]
pub struct WalkSideView {
    /// The side's key.
    pub side: Uuid,
    /// What it is called here.
    pub name: String,
    /// Damage that stands, in the order found.
    pub damage: Vec<DamageView>,
    /// Damage that was struck.
    pub struck: Vec<DamageView>,
    /// Doubts about its paint.
    pub doubts: Vec<DoubtView>,
    /// Photos of it.
    pub photos: Vec<SidePhotoView>,
    /// Its hardware: what comes off, and what stays with its plan.
    pub hardware: Vec<HardwareLine>,
}

/// The walk round of a job.
#[derive(Debug, Serialize, ToSchema)]
pub struct WalkRoundView {
    /// Side by side.
    pub sides: Vec<WalkSideView>,
    /// The customer's word, the newest.
    pub signed: Option<SignOff>,
    /// When that was signed, in words.
    pub signed_at: Option<String>,
    /// Who has the vehicle back, and when, in words.
    pub received: Option<String>,
    /// Findings that were struck.
    pub struck: usize,
    /// Hardware that is off and must go back.
    pub must_go_back: usize,
}

/// The walk round with the entries that it follows from.
pub(crate) struct Walk {
    /// As they were recorded.
    pub entries: Vec<RecordEntry>,
    /// How it stands after them.
    pub round: WalkRound,
}

/// The walk round of a job.
pub(crate) async fn walked(desk: &Desk, job: Uuid) -> Result<Walk, Problem> {
    let entries = desk
        .record_of_kind(job, EntryKind::WalkRound, MOST_ENTRIES)
        .await?;
    let read = entries
        .iter()
        .filter_map(|e| Some((e.id, serde_json::from_value(e.body.clone()).ok()?)))
        .collect::<Vec<(Uuid, WalkEntry)>>();
    Ok(Walk {
        round: stand(&read),
        entries,
    })
}

/// A side with its plan and what was found on it.
pub(crate) struct WalkedSide {
    /// The side.
    pub id: Uuid,
    /// What it is called here.
    pub name: String,
    /// Its plan.
    pub planned: Arc<PlannedSide>,
    /// Its hardware.
    pub hardware: Vec<HardwareLine>,
}

/// Sides of a job that can be read, planned. One that cannot is shown by the job itself.
pub(crate) async fn walked_sides(
    desk: &Desk,
    job: &JobRows,
    round: &WalkRound,
    ways: &Ways,
) -> Result<Vec<WalkedSide>, Problem> {
    let mut sides = Vec::new();
    for rows in &job.sides {
        let planned = match desk.planned(job, rows.side.id, ways).await {
            Ok(planned) => planned,
            Err(problem) if problem.code == UNREADABLE => continue,
            Err(problem) => return Err(problem),
        };
        let PlannedSide { input, plan } = planned.as_ref();
        let features = input
            .features
            .iter()
            .map(|f| (f.id, &f.feature, parts_of(plan, f.id)));
        sides.push(WalkedSide {
            id: rows.side.id,
            name: input.side.name(ways.side_words),
            hardware: hardware_list(features, round),
            planned,
        });
    }
    Ok(sides)
}

/// How the walk round of a job stands, as it is shown.
pub(crate) async fn view(desk: &Desk, job: &JobRows) -> Result<WalkRoundView, Problem> {
    let settings = desk.ways().await?;
    let walk = walked(desk, job.job.id).await?;
    let unit = unit_of(&job.job.unit)?;
    let crew: BTreeMap<Uuid, String> = desk
        .crew()
        .await?
        .into_iter()
        .map(|c| (c.id, c.name))
        .collect();
    let by_entry = |id: Uuid| walk.entries.iter().find(|e| e.id == id);
    let who = |id: Uuid| {
        by_entry(id)
            .and_then(|e| crew.get(&e.crew))
            .cloned()
            .unwrap_or_else(|| "somebody".into())
    };
    let when = |id: Uuid| {
        by_entry(id)
            .map(|e| settings.zone.stated(e.at))
            .unwrap_or_default()
    };
    let sides = walked_sides(desk, job, &walk.round, &settings)
        .await?
        .into_iter()
        .map(|s| {
            let datum = s.planned.input.side.datum();
            let shown = |all: &[Found<Damage>]| -> Vec<DamageView> {
                let here = all.iter().filter(|f| f.found.side == s.id);
                here.map(|f| {
                    let at = datum.drop_point(f.found.back_mm.mm(), f.found.drop_mm.mm());
                    DamageView {
                        entry: f.entry,
                        number: walk.round.numbers.get(&f.entry).copied().unwrap_or(0),
                        name: f.found.damage.name().into(),
                        at: [at.x, at.y],
                        back: print(f.found.back_mm.mm(), unit).text,
                        drop: print(f.found.drop_mm.mm(), unit).text,
                        size: print(f.found.size_mm.mm(), unit).text,
                        damage: f.found.clone(),
                        who: who(f.entry),
                        when: when(f.entry),
                        struck: walk.round.struck.get(&f.entry).cloned(),
                    }
                })
                .collect()
            };
            WalkSideView {
                side: s.id,
                damage: shown(&walk.round.damage),
                struck: shown(&walk.round.struck_damage),
                name: s.name,
                doubts: walk
                    .round
                    .doubts
                    .iter()
                    .filter(|f| f.found.0 == s.id)
                    .map(|f| DoubtView {
                        entry: f.entry,
                        note: f.found.1.clone(),
                        who: who(f.entry),
                    })
                    .collect(),
                photos: walk
                    .round
                    .photos
                    .iter()
                    .filter(|f| f.found.0 == s.id)
                    .map(|f| SidePhotoView {
                        entry: f.entry,
                        photo: f.found.1,
                        note: f.found.2.clone(),
                    })
                    .collect(),
                hardware: s.hardware,
            }
        })
        .collect();
    Ok(WalkRoundView {
        sides,
        signed_at: walk.round.signed.as_ref().map(|s| when(s.entry)),
        received: (walk.round.received.as_ref()).map(|r| format!("{}, {}", r.found, when(r.entry))),
        struck: walk.round.struck.len(),
        must_go_back: walk.round.off.len(),
        signed: walk.round.signed,
    })
}
