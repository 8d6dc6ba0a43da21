//! A side with everything on it.

use std::collections::BTreeMap;

use serde::Serialize;
use serde_json::Value;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::drawn::LayerKind;
use windrift_core::art::legibility::Legibility;
use windrift_core::art::weeding::Weeding;
use windrift_core::floor::hangs_at::{HangsAt, Moved};
use windrift_core::floor::lay_down::turns::turns;
use windrift_core::floor::verdict::{Refusal, Verdict, verdict};
use windrift_core::ground::mm::printed;
use windrift_core::ground::outline::{Shape, bounds_of_shapes};
use windrift_core::ground::said::Said;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Length, Unit, print};
use windrift_core::place::fit::Fit;
use windrift_core::place::landing::Landing;
use windrift_core::place::said::{Names, said};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::planned::{Overlap, PieceError, PlannedPiece, SeamAsLaid, SidePlan};
use windrift_core::plan::readings::{Readings, TapeFigure, move_to_read};
use windrift_core::plan::regulated::Finding;
use windrift_core::plan::top_hinge::TopHinge;
use windrift_core::plan::worked::Worked;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::body::readings::print_readings;
use windrift_core::vehicle::dimensions::{Dimension, of_feature, of_side};
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::feature::said::said as feature_said;
use windrift_core::vehicle::inside::not_there;
use windrift_core::vehicle::quick::say;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::levels::LevelReport;
use windrift_core::vehicle::side::words::EdgeNames;
use windrift_core::vehicle::surface::SurfaceVerdict;
use windrift_core::vehicle::underlay::Off;
use windrift_formats::svg::screen_path;
use windrift_store::SideRows;

use crate::mirror::mirror_of;
use crate::planned::{PlannedSide, SideInput, Unreadable};
use crate::problem::Problem;
use crate::views::{PathData, SCREEN_MM, SideDrawing};

/// A feature of a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct FeatureView {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What was measured.
    pub spec: Feature,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// What it is called, with how many parts it has: `5 seams`.
    pub name: String,
    /// Pieces whose rule hangs on it.
    pub held_by: Vec<String>,
    /// Where each of its measures stands in the picture.
    pub dimensions: Vec<Dimension>,
    /// The same feature in quick words.
    pub quick: String,
    /// How it is measured, as it is said.
    pub said: Vec<Said>,
}

/// A piece, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct PieceView {
    /// Its key.
    pub id: Uuid,
    /// Its revision; 0 where it is not saved yet.
    pub revision: i32,
    /// What was asked for.
    pub spec: Piece,
    /// What it is called.
    pub called: String,
    /// Numbers of the gaps of its chain that a move of it changes, from 1.
    pub own_gaps: Vec<usize>,
    /// Its rule as it is said, figures and choices in their places.
    pub said: Vec<Said>,
    /// What it is made as, as it is said: the whole, then each band or what must stay clear. Empty for lettering.
    pub art_said: Vec<Vec<Said>>,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// What is cut from each film, the one that goes on first first.
    pub layers: Vec<LayerView>,
    /// The picture that is printed on it.
    pub picture: Option<PictureView>,
    /// Middles of the registration marks in the picture frame.
    pub marks: Vec<[f64; 2]>,
    /// The point that is put down first and both ends of the line to swing to, in the picture frame.
    pub point_and_line: [[f64; 2]; 3],
    /// The film's box in the picture frame: x, y, width, height.
    pub bounds: [f64; 4],
    /// The reference that it is read from: its zero and its end in the picture frame.
    pub datum: [[f64; 2]; 2],
    /// What that reference is called.
    pub datum_name: String,
    /// Points of the piece that can be measured to, in its own frame.
    pub named_points: Vec<NamedPoint>,
    /// Readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// What a print meets, and how that is worked.
    pub worked: Vec<Worked>,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// Whether it can be cut and weeded.
    pub weeding: Weeding,
    /// From how far it is read, where it is lettering.
    pub legibility: Option<Legibility>,
    /// The rule that it is to keep, clause by clause, where it is a regulated mark.
    pub findings: Vec<Finding>,
    /// Pieces that its film overlaps.
    pub overlaps: Vec<Overlap>,
    /// Its seam to the piece before it as it is laid out, where it is a kit piece that has one.
    pub seam: Option<SeamAsLaid>,
    /// How it fits its measured points or marks.
    pub fit: Option<Fit>,
    /// What is wrong, worst first.
    pub troubles: Vec<String>,
    /// Whether film goes on here at all.
    pub verdict: Verdict,
    /// What of it stops the work; nothing where film goes on.
    pub stopped: Option<Refusal>,
    /// Whether its hinge is locked where it hangs.
    pub locked: bool,
    /// Whether it was laid down.
    pub laid: bool,
    /// Whether it was locked and has been moved since.
    pub lock_lost: bool,
    /// How it was moved since it was locked; where it lies, how the plan differs from where it lies.
    pub moved: Option<Moved>,
}

/// A point of a piece with a name.
#[derive(Debug, Serialize, ToSchema)]
pub struct NamedPoint {
    /// What it is called.
    pub name: String,
    /// In the piece's own frame, mm.
    pub at: [f64; 2],
}

/// The picture of a print where it lies.
#[derive(Debug, Serialize, ToSchema)]
pub struct PictureView {
    /// Whether it reaches past the film, which then shows a part of it.
    pub clipped: bool,
    /// Where it is fetched.
    pub href: String,
    /// Its width, mm.
    pub width_mm: f64,
    /// Its height, mm.
    pub height_mm: f64,
    /// Takes its own frame (mm from its upper left corner) to the picture frame: six coefficients of an affine map, column by column.
    pub matrix: [f64; 6],
    /// How high the print would be in the picture's own proportions, where it is not.
    pub own_height: Option<Length>,
}

/// One film of a piece.
#[derive(Debug, Serialize, ToSchema)]
pub struct LayerView {
    /// Which it is.
    pub kind: LayerKind,
    /// What it is called.
    pub name: &'static str,
    /// Colour as `#rrggbb`.
    pub colour: String,
    /// Film outlines in the picture frame.
    pub film: PathData,
}

/// A piece that cannot be planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct FailedPiece {
    /// Its key.
    pub id: Uuid,
    /// Its revision; 0 where it is not saved yet.
    pub revision: i32,
    /// What was asked for.
    pub spec: Value,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// Its rule as it is said.
    pub said: Vec<Said>,
    /// What it is made as, as it is said.
    pub art_said: Vec<Vec<Said>>,
    /// What is wrong and what to do.
    pub problem: Problem,
}

/// Pieces of a side, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct Evaluation {
    /// Pieces that could be planned.
    pub pieces: Vec<PieceView>,
    /// Pieces that could not.
    pub failed: Vec<FailedPiece>,
}

/// A photo under the picture, squared up.
#[derive(Debug, Serialize, ToSchema)]
pub struct UnderlayView {
    /// Where the squared-up picture is fetched.
    pub href: String,
    /// What it covers in the picture frame, mm: x, y, width, height.
    pub bounds: [f64; 4],
    /// How far off its fifth point lies, where there is one.
    pub off: Option<Off>,
}

/// Something that usually stands on a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct Offer {
    /// What it is called.
    pub name: String,
    /// The same in quick words, to be changed as the tape says.
    pub quick: String,
}

/// A side with everything on it, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideView {
    /// Its key.
    pub id: Uuid,
    /// The job's key.
    pub job: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What it is called here: `street side`.
    pub name: String,
    /// The job's unit.
    pub unit: Unit,
    /// One step of what is nudged by keys, mm.
    pub step_mm: f64,
    /// The side as measured.
    pub spec: Side,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// What its edges are called here.
    pub edges: EdgeNames,
    /// Its length and height as printed.
    pub size: [String; 2],

    /// Its outline as a list of readings, where it was typed as one.
    pub readings: Option<String>,
    /// How its references lie against level.
    pub levels: Vec<LevelReport>,
    /// What follows from its surface today.
    pub surface: SurfaceVerdict,
    /// The side that mirrors it, if the job has one.
    pub mirror: Option<Uuid>,
    /// The photo under the picture.
    pub underlay: Option<UnderlayView>,
    /// How it is drawn.
    pub drawing: SideDrawing,
    /// Where each measure of its shape stands in the picture.
    pub dimensions: Vec<Dimension>,
    /// What usually stands on such a side and is not there yet, in quick words.
    pub offers: Vec<Offer>,
    /// Its features.
    pub features: Vec<FeatureView>,
    /// Its pieces' keys in the order in which they go on.
    pub going_on: Vec<Uuid>,
    /// What is on it and cannot be read.
    pub unreadable: Vec<Unreadable>,
    /// Its pieces, planned.
    #[serde(flatten)]
    pub evaluation: Evaluation,
}

/// What stands of a piece's lock, and of where it lies.
#[derive(Debug, Clone, Default)]
pub struct LockState {
    /// Locked, and still hanging where it was locked.
    pub locked: bool,
    /// Locked once, and moved since.
    pub lost: bool,
    /// How it was moved since it was locked or laid.
    pub moved: Option<Moved>,
}

impl LockState {
    /// Whether it was locked at all, wherever it hangs by now.
    pub fn was_locked(&self) -> bool {
        self.locked || self.lost
    }
}

/// Whether a piece's hinge is locked where it hangs now, or was moved since, by whatever: its own rule, a feature, another piece, the
/// side, a setting, a typeface.
pub fn lock_state(rows: &SideRows, planned: &PlannedPiece, input: &SideInput) -> LockState {
    let now = HangsAt::of(planned);
    let moved_from = |then: &HangsAt| then.moved_to(&now, input.side.direction(), input.unit);
    let read =
        |kept: &Option<Value>| -> Option<HangsAt> { serde_json::from_value(kept.clone()?).ok() };
    let mut state = LockState::default();
    if let Some(lock) = rows.locks.iter().find(|l| l.piece_id == planned.id) {
        match read(&lock.hangs_at) {
            Some(then) => {
                state.moved = moved_from(&then);
                state.locked = state.moved.is_none();
            }
            // A lock of an earlier release knows only which revisions it was made at.
            None => {
                let piece = rows.pieces.iter().find(|p| p.id == planned.id);
                state.locked = lock.side_revision == rows.side.revision
                    && piece.is_some_and(|p| p.revision == lock.piece_revision);
            }
        }
        state.lost = !state.locked;
    }
    if let Some(lies) = rows.laid.iter().find(|l| l.piece == planned.id)
        && let Some(then) = read(&lies.lies_at)
    {
        state.moved = moved_from(&then);
    }
    state
}

/// What is said of a piece that was moved since it was locked or laid.
fn moved_sentence(state: &LockState, laid: bool) -> Option<String> {
    let moved = state.moved.as_ref()?;
    let [front, rear] = &moved.wanted_then;
    Some(if laid {
        format!(
            "It lies where the tape read {} and {}. The plan now has it {}: it was changed after it was laid.",
            front.text, rear.text, moved.how
        )
    } else {
        format!(
            "Its lock is open: it was locked at {} and {}, and was moved {} since. Read both ends again.",
            front.text, rear.text, moved.how
        )
    })
}

fn piece_view(
    planned: &PlannedPiece,
    plan: &SidePlan,
    rows: &SideRows,
    input: &SideInput,
    today: Date,
) -> PieceView {
    let unit = input.unit;
    let revision = rows
        .pieces
        .iter()
        .find(|p| p.id == planned.id)
        .map_or(0, |p| p.revision);
    let state = lock_state(rows, planned, input);
    let laid = rows.laid.iter().any(|l| l.piece == planned.id);
    let mut troubles = planned.troubles.clone();
    if let Some(sentence) = moved_sentence(&state, laid) {
        troubles.insert(0, sentence);
    }
    let film: Vec<Shape> = planned.film().collect();
    let bounds = bounds_of_shapes(&film);
    let datum = planned.placed.datum;
    let end = datum.at(datum.length_mm, 0.0);
    let at = |p: kurbo::Point| {
        let p = planned.placed.to_picture * p;
        [p.x, p.y]
    };
    let said = verdict(planned, &plan.side, today);
    PieceView {
        id: planned.id,
        revision,
        printed: printed(&planned.piece, unit),
        called: planned.piece.called(),
        own_gaps: (1..planned.readings.chain.len())
            .filter(|&number| {
                move_to_read(&planned.readings, TapeFigure::Gap { number }, 0.0).is_some()
            })
            .collect(),
        said: planned.said.clone(),
        art_said: planned.art_said.clone(),
        spec: planned.piece.clone(),
        layers: layers(planned),
        picture: planned.drawn.picture.map(|(photo, filled)| PictureView {
            href: format!("/api/photos/{photo}"),
            width_mm: filled.width(),
            height_mm: filled.height(),
            matrix: (planned.placed.to_picture
                * kurbo::Affine::translate(filled.origin().to_vec2()))
            .as_coeffs(),
            clipped: match &planned.piece.art {
                Art::Panel(panel) => panel.picture.is_some_and(|p| p.window.is_some()),
                _ => false,
            },
            own_height: match &planned.piece.art {
                Art::Panel(panel) => panel.own_height_mm().map(|mm| print(mm, unit)),
                _ => None,
            },
        }),
        marks: planned.drawn.marks.iter().map(|m| at(*m)).collect(),
        point_and_line: [
            at(planned.drawn.point),
            at(planned.drawn.line.0),
            at(planned.drawn.line.1),
        ],
        named_points: named_points(planned),
        weeding: planned.weeding.clone(),
        legibility: planned.legibility.clone(),
        findings: planned.findings.clone(),
        overlaps: planned.overlaps.clone(),
        seam: planned.seam.clone(),
        fit: planned.placed.fit.clone(),
        bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
        datum: [[datum.zero.x, datum.zero.y], [end.x, end.y]],
        datum_name: plan
            .side
            .side
            .datum_name(planned.piece.place.reference())
            .to_owned(),
        readings: planned.readings.clone(),
        landing: planned.landing.clone(),
        worked: planned.worked.clone(),
        hinge: planned.hinge.clone(),
        troubles,
        stopped: said.stops().cloned(),
        verdict: said,
        locked: state.locked,
        laid,
        lock_lost: state.lost,
        moved: state.moved,
    }
}

fn named_points(planned: &PlannedPiece) -> Vec<NamedPoint> {
    let drawn = &planned.drawn;
    let n = drawn.nominal;
    let own = [
        ("its point", drawn.point),
        ("the start of its line", drawn.line.0),
        ("the end of its line", drawn.line.1),
        ("upper left corner", kurbo::Point::new(n.x0, n.y0)),
        ("upper right corner", kurbo::Point::new(n.x1, n.y0)),
        ("lower left corner", kurbo::Point::new(n.x0, n.y1)),
        ("lower right corner", kurbo::Point::new(n.x1, n.y1)),
    ];
    let named = |name: String, p: kurbo::Point| NamedPoint {
        name,
        at: [p.x, p.y],
    };
    own.into_iter()
        .map(|(name, p)| named(name.to_owned(), p))
        .chain(
            (1..)
                .zip(&drawn.marks)
                .map(|(k, m)| named(format!("mark {k}"), *m)),
        )
        .collect()
}

fn layers(planned: &PlannedPiece) -> Vec<LayerView> {
    planned
        .drawn
        .layers
        .iter()
        .map(|layer| {
            let film: Vec<Shape> = layer
                .shapes
                .iter()
                .map(|s| s.transformed(planned.placed.to_picture))
                .collect();
            LayerView {
                kind: layer.kind,
                name: layer.kind.name(),
                colour: layer.colour.clone(),
                film: screen_path(&film, SCREEN_MM),
            }
        })
        .collect()
}

/// What a plan says of its pieces.
pub fn evaluation(
    plan: &SidePlan,
    input: &SideInput,
    rows: &SideRows,
    settings: &WorkSettings,
) -> Evaluation {
    let today = settings.zone.date(OffsetDateTime::now_utc());
    let edges = input.side.edge_names(settings.side_words);
    let named = |id: Uuid| {
        let other = input.pieces.iter().find(|(p, _)| *p == id);
        other.map_or_else(|| "another piece".to_owned(), |(_, p)| p.called())
    };
    let rule = |piece: &Piece| {
        let names = Names {
            side: &plan.side,
            edges: &edges,
            piece: &named,
            lettered: piece.lettering().is_some(),
            unit: input.unit,
        };
        said(&piece.place, &names)
    };
    let failed = |(id, error): &(Uuid, PieceError)| {
        let piece = input.pieces.iter().find(|(p, _)| p == id).map(|(_, p)| p);
        FailedPiece {
            id: *id,
            revision: rows
                .pieces
                .iter()
                .find(|p| p.id == *id)
                .map_or(0, |p| p.revision),
            printed: printed(&piece, input.unit),
            said: piece.map(rule).unwrap_or_default(),
            art_said: piece.map(|p| p.art_said(input.unit)).unwrap_or_default(),
            spec: serde_json::to_value(piece).unwrap_or_default(),
            problem: error.clone().into(),
        }
    };
    Evaluation {
        pieces: plan
            .pieces
            .iter()
            .map(|p| piece_view(p, plan, rows, input, today))
            .collect(),
        failed: plan.failed.iter().map(failed).collect(),
    }
}

/// How many parts of a feature stand on the side.
pub fn parts_of(plan: &SidePlan, feature: Uuid) -> usize {
    let side = &plan.side;
    side.lines.iter().filter(|l| l.source.0 == feature).count()
        + side
            .columns
            .iter()
            .filter(|c| c.source.0 == feature)
            .count()
        + side.areas.iter().filter(|a| a.source.0 == feature).count()
}

/// A side with everything on it, as it was planned. `siblings` are all sides of its job.
pub fn side_view(
    rows: &SideRows,
    siblings: &[SideRows],
    planned: &PlannedSide,
    settings: &WorkSettings,
) -> Result<SideView, Problem> {
    let PlannedSide { input, plan } = planned;
    let bounds = plan.side.outline.bounds;
    let print = |mm: f64| windrift_core::ground::tape::print(mm, input.unit).text;
    let held_by = |feature: Uuid| {
        input
            .pieces
            .iter()
            .filter(|(_, p)| p.place.features().contains(&feature))
            .map(|(_, p)| p.called())
            .collect()
    };
    let edges = input.side.edge_names(settings.side_words);
    let mirror = mirror_of(siblings, &input.side).map(|(other, _)| other);
    let underlay = input.side.photo.as_ref().map(|photo| {
        let area = underlay_area(&plan.side.outline);
        UnderlayView {
            href: format!(
                "/api/sides/{}/underlay.jpg?revision={}",
                rows.side.id, rows.side.revision
            ),
            bounds: [area.x0, area.y0, area.width(), area.height()],
            off: photo.off(input.side.direction(), bounds.width(), input.unit),
        }
    });
    Ok(SideView {
        id: rows.side.id,
        job: rows.job.id,
        revision: rows.side.revision,
        name: input.side.name(settings.side_words),
        unit: input.unit,
        step_mm: input.unit.step_mm(),
        printed: printed(&input.side, input.unit),
        edges: edges.clone(),
        size: [
            print(plan.side.datum.length_mm.max(bounds.width())),
            print(bounds.height()),
        ],
        readings: match &input.side.body {
            Body::Readings { points } => Some(print_readings(points, input.unit)),
            _ => None,
        },
        levels: input.side.levels(input.unit),
        surface: input
            .side
            .surface
            .verdict(settings.zone.date(OffsetDateTime::now_utc())),
        mirror: mirror.map(|s| s.side.id),
        underlay,
        drawing: SideDrawing::of(&plan.side),
        going_on: turns(&plan.pieces, input.side.direction())
            .into_iter()
            .map(|t| t.piece)
            .collect(),
        dimensions: of_side(&input.side),
        offers: {
            let said = |f: &Feature| say(f, &input.side, input.unit);
            let there: Vec<&Feature> = input.features.iter().map(|f| &f.feature).collect();
            not_there(&input.side.offered, &there, said)
                .into_iter()
                .map(|o| Offer {
                    name: o.name().to_owned(),
                    quick: said(o),
                })
                .collect()
        },
        features: rows
            .features
            .iter()
            .filter_map(|row| Some((row, input.features.iter().find(|f| f.id == row.id)?)))
            .map(|(row, f)| {
                let parts = parts_of(plan, row.id);
                FeatureView {
                    id: row.id,
                    revision: row.revision,
                    name: match (parts, &f.feature.called) {
                        (1, _) => f.feature.name().to_owned(),
                        (n, Some(called)) => format!("{n} × {called}"),
                        (n, None) => format!("{n} {}", f.feature.kind.names().1),
                    },
                    held_by: held_by(row.id),
                    spec: f.feature.clone(),
                    printed: printed(&f.feature, input.unit),
                    dimensions: of_feature(&f.feature, &input.side),
                    quick: say(&f.feature, &input.side, input.unit),
                    said: feature_said(&f.feature, &input.side, &edges, input.unit),
                }
            })
            .collect(),
        unreadable: input.unreadable.clone(),
        evaluation: evaluation(plan, input, rows, settings),
        spec: input.side.clone(),
    })
}

/// What a squared-up photo covers: the side and a little round it.
pub fn underlay_area(outline: &Shape) -> kurbo::Rect {
    let room = outline.bounds.width().max(outline.bounds.height()) * 0.04;
    outline.bounds.inflate(room, room)
}
