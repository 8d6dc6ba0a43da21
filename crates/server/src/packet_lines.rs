//! What a packet tells beside what its plan froze: photos of the record, and how heat and sealing stand at the hour of printing.

use std::collections::BTreeSet;

use uuid::Uuid;
use windrift_core::floor::edges::SealWith;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::told::first_capital;
use windrift_formats::packet::{HeatLine, PhotoLine};
use windrift_store::RecordEntry;

use crate::desk::Desk;
use crate::entries::entries_in_words;
use crate::heat_view::view;
use crate::problem::Problem;

/// Most photos of the record that are printed, the newest ones.
const PRINTED_PHOTOS: usize = 60;

/// Photos that stand in a record, each with what its entry says, and how many they are; of these pieces alone where some are named.
pub(crate) async fn photographed(
    desk: &Desk,
    entries: &[RecordEntry],
    unit: Unit,
    only: Option<&BTreeSet<Uuid>>,
) -> Result<(Vec<PhotoLine>, String), Problem> {
    let with: Vec<RecordEntry> = (entries.iter())
        .filter(|e| only.is_none_or(|only| e.piece.is_some_and(|p| only.contains(&p))))
        .filter(|e| photo_of(e).is_some())
        .cloned()
        .collect();
    let printed = &with[with.len().saturating_sub(PRINTED_PHOTOS)..];
    let words = entries_in_words(desk, printed, unit).await?;
    let foot = match with.len() {
        n if n > printed.len() => format!(
            "{} photos stand in the record; the newest {} are printed. All of them are in the job bundle.",
            n,
            printed.len()
        ),
        1 => "1 photo stands in the record.".to_owned(),
        n => format!("{n} photos stand in the record."),
    };
    let lines = (printed.iter().zip(words))
        .filter_map(|(e, w)| {
            Some(PhotoLine {
                photo: photo_of(e)?,
                says: format!("{}. {}, {}: {}", w.seq, w.at, w.who, w.what),
            })
        })
        .collect();
    Ok((lines, foot))
}

/// The photo that an entry holds: of a side, of damage, of a patch, of harm, of what came back.
fn photo_of(entry: &RecordEntry) -> Option<Uuid> {
    fn find(value: &serde_json::Value) -> Option<Uuid> {
        let all = value.as_object()?;
        let own = all.get("photo").and_then(|p| p.as_str()?.parse().ok());
        own.or_else(|| all.values().find_map(find))
    }
    find(&entry.body)
}

/// What must reach its temperature on every side of a job, and how far it is known to have. A side that cannot be planned any more has its record alone.
pub(crate) async fn heat_lines(desk: &Desk, job: Uuid) -> Result<Vec<HeatLine>, Problem> {
    let mut lines = Vec::new();
    for side in desk.job(job).await?.sides {
        let view = match view(desk, side.side.id, false).await {
            Ok(view) => view,
            Err(problem) if problem.status < 500 => continue,
            Err(problem) => return Err(problem),
        };
        for piece in view.pieces.into_iter().filter(|p| p.laid) {
            for r in piece.runs {
                let known = format!(
                    "{:.0} % is known to have reached.",
                    (r.share * 100.0).floor()
                );
                let end = match (&r.closed, &r.run.cannot) {
                    (Some(closed), _) => {
                        format!("{}.", first_capital(closed.trim_end_matches('.')))
                    }
                    (None, Some(cannot)) => cannot.clone(),
                    (None, None) => "Open.".to_owned(),
                };
                let passed = r.passed.map_or(String::new(), |p| format!(" {p}"));
                lines.push(HeatLine {
                    piece: piece.piece,
                    says: format!("{} {known} {end}{passed}", r.run.says),
                    name: r.run.name,
                    length: r.run.length.text,
                });
            }
            for s in piece.seals {
                let done = if s.sealed { "Done." } else { "Open." };
                let with = match s.run.with {
                    SealWith::Tape => "Seal tape.",
                    SealWith::Sealer => "Sealer.",
                    SealWith::Coat => "",
                };
                lines.push(HeatLine {
                    piece: piece.piece,
                    says: format!("{with} {} {done}", s.run.how).trim().to_owned(),
                    name: s.run.name,
                    length: s.run.length.text,
                });
            }
        }
    }
    Ok(lines)
}
