//! The marking of a side as it is settled, worked out: what its routes and a plan that is issued have in common.

use windrift_core::ground::outline::bounds_of_shapes;
use windrift_core::ground::said::{Said, plainly};
use windrift_core::ground::settings::SideWords;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::said::{FaceWords, said};
use windrift_core::marking::work::steps;
use windrift_core::marking::{
    Face, FaceMarking, MarkedKind, MarkedVehicle, RuleSet, VehicleMarking,
};
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_formats::marking_report::{MarkingPaper, MarkingReport};
use windrift_store::stored::Kind;
use windrift_store::{SideRows, entity};

use crate::corrections::corrections;
use crate::desk::Desk;
use crate::planned::SideInput;
use crate::problem::Problem;
use crate::views::{Audits, MarkingInput, MarkingParts};

/// What a marking is worked out from, with what is settled; nothing where vehicle or face is not settled.
pub(crate) async fn input_of(
    desk: &Desk,
    rows: &SideRows,
    marking: Option<FaceMarking>,
) -> Result<Option<MarkingInput>, Problem> {
    let (Some(marking), Some(vehicle)) = (marking, &rows.vehicle) else {
        return Ok(None);
    };
    let ways = desk.ways().await?;
    let job = desk.job(rows.job.id).await?;
    let planned = desk.planned(&job, rows.side.id, &ways).await?;
    let plan = &planned.plan;
    let film = plan
        .pieces
        .iter()
        .map(|p| {
            let film: Vec<_> = p.film().collect();
            (p.piece.called(), bounds_of_shapes(&film))
        })
        .collect();
    Ok(Some(MarkingInput {
        measured: plan.side.clone(),
        film,
        vehicle: Kind::MarkedVehicle.read(&vehicle.spec)?,
        marking,
        corrections: corrections(desk).await?,
        words: ways.side_words,
        unit: planned.input.unit,
        read_back: false,
    }))
}

/// What the job says of a vehicle that nobody has settled: its kind, the width of the rear as it is measured, the rules of the shop's
/// country.
pub(crate) async fn suggested(
    desk: &Desk,
    rows: &SideRows,
    words: SideWords,
) -> Result<VehicleMarking, Problem> {
    let named = |k: &&VehicleKind| k.name() == rows.job.vehicle_kind;
    let kind = VehicleKind::ALL.iter().find(named).copied();
    let mut vehicle = MarkedVehicle::of(kind.map_or(MarkedKind::Equipment, MarkedKind::of));
    let job = desk.job(rows.job.id).await?;
    for other in &job.sides {
        let side: Side = Kind::Side.read(&other.side.spec)?;
        let across = matches!(side.kind, SideKind::Rear | SideKind::Front);
        // A figure that only a starting shape brought is nobody's measure.
        if across
            && side.unmeasured.is_empty()
            && let Ok(measured) = measure(&side, &[])
        {
            vehicle.width_mm = Some(measured.outline.bounds.width().into());
        }
    }
    Ok(VehicleMarking {
        set: match words {
            SideWords::NearOffKeepLeft => RuleSet::Unece,
            _ => RuleSet::UnitedStatesNew,
        },
        vehicle,
    })
}

pub(crate) fn settled(rows: &SideRows) -> Result<Option<FaceMarking>, Problem> {
    let read = |m: &entity::marking::Model| Kind::Marking.read(&m.spec);
    Ok(rows.marking.as_ref().map(read).transpose()?)
}

/// What is settled about a face, as it is said.
pub(crate) fn sentences(
    side: &Side,
    vehicle: Option<&VehicleMarking>,
    marking: Option<&FaceMarking>,
    words: SideWords,
    unit: Unit,
) -> Vec<Vec<Said>> {
    let face = FaceWords {
        face: Face::of(side.kind),
        // The UN regulation has one way of its own.
        ways: vehicle.is_none_or(|v| v.set != RuleSet::Unece),
        rail: &side.rail,
        ends: side.ends(words),
        unit,
    };
    said(marking, &face)
}

/// Settled marking of a side, worked out.
pub(crate) async fn settled_parts(
    desk: &Desk,
    rows: &SideRows,
    read_back: bool,
) -> Result<(MarkingInput, MarkingParts), Problem> {
    let input = input_of(desk, rows, settled(rows)?)
        .await?
        .ok_or_else(|| {
            Problem::input(
                "marking",
                "Nothing is settled yet: say what vehicle it is, and measure from the reference to the ground.",
            )
        })?;
    if read_back && input.marking.read_back.is_none() {
        return Err(Problem::input(
            "read_back",
            "Nothing was read back yet. Read the start, end and height of each strip first.",
        ));
    }
    let input = MarkingInput { read_back, ..input };
    desk.compute(move || {
        let parts = input.parts();
        (input, parts)
    })
    .await
}

/// How many strips of a reading are still to be read.
pub(crate) fn still_unread(marking: &FaceMarking) -> usize {
    let read = marking.read_back.iter().flatten();
    read.filter(|r| r.unread.any() && !r.missing).count()
}

fn read_back_as(marking: &FaceMarking) -> String {
    match still_unread(marking) {
        0 => "the strips as read back on the vehicle".into(),
        1 => "the strips as read back on the vehicle, one of them still unread".into(),
        n => format!("the strips as read back on the vehicle, {n} of them still unread"),
    }
}

/// The audit of a side's marking as paper shows it, with the lots that its strips are cut from.
pub(crate) async fn marking_paper(
    desk: &Desk,
    rows: &SideRows,
    read_back: bool,
    lots: &[String],
) -> Result<MarkingPaper, Problem> {
    let settings = desk.ways().await?;
    let (input, parts) = settled_parts(desk, rows, read_back).await?;
    let mut side = SideInput::of(rows)?;
    side.pieces.clear();
    let plan = side.plan(&settings)?;
    let name = side
        .side
        .called
        .clone()
        .unwrap_or_else(|| side.side.kind.name(settings.side_words).to_owned());
    let said: Vec<String> = sentences(
        &plan.side.side,
        Some(&input.vehicle),
        Some(&input.marking),
        input.words,
        input.unit,
    )
    .iter()
    .map(|sentence| plainly(sentence))
    .collect();
    let as_read = read_back_as(&input.marking);
    Ok(MarkingPaper::of(&MarkingReport {
        side: &name,
        plan: &plan,
        vehicle: &input.vehicle,
        marking: &input.marking,
        applies: &parts.applies,
        rules: parts.rules.as_ref(),
        strips: &parts.strips,
        numbers: &parts.numbers,
        audits: match parts.audits {
            Audits::Best => "the best layout",
            Audits::Own => "the layout as changed by hand",
            Audits::ReadBack => &as_read,
        },
        audit: &parts.audit,
        said: &said,
        ends: input.ends(),
        lots,
        steps: &steps(
            parts.elements.iter().map(|e| e.heads_under).sum(),
            &input.marking,
            &parts.strips,
        ),
        unit: input.unit,
    }))
}
