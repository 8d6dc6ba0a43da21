//! What must reach which temperature once film lies, and what is sealed, in walking order.
//!
//! Common practice, no source: recesses, curves, edges and laps to the class's temperature, measured right behind the heat; everything stretched past its
//! aim as well; reflective film all over once more; thick kits whole, in two passes until the texture shows; prismatic strip none. The film's sheet
//! decides. Ceilings of surfaces are Windrift's own, that of film too.

use serde::{Deserialize, Serialize};

use crate::film::classes::{Adhesive, FilmClass, FilmFigures, Span};
use crate::floor::edges::{EdgeEnd, SealWith, edges};
use crate::floor::forming::stretches_as_settled;
use crate::floor::heat::burst::RIVET_CEILING;
use crate::floor::heat::panel::HeatSpot;
use crate::ground::degrees::{span, told};
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::surface::SurfaceVerdict;

/// What a run goes along.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RunOf {
    /// A place where film was formed.
    Formed,
    /// All of the film, pass by pass.
    Whole,
    /// An edge.
    Edge,
}

/// A run of heat.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatRun {
    /// Its name, the same at every look: `recess 1`, `edge at the body`.
    pub name: String,
    /// What it goes along.
    pub of: RunOf,
    /// Why it is there.
    pub why: String,
    /// What is wanted at the surface of the film, °C.
    pub wanted: Span,
    /// Never past this, °C: the lowest of film and face.
    pub ceiling_celsius: f64,
    /// The film's own ceiling, °C.
    pub film_ceiling_celsius: f64,
    /// That of what is under it, °C.
    pub face_ceiling_celsius: f64,
    /// Whether something cold lies behind all of it, as the folded flange at a gap does.
    pub spot: HeatSpot,
    /// Both in words, with whose the ceiling is.
    pub says: String,
    /// Why it cannot reach what is wanted here without passing its ceiling, and what else; nothing where it can.
    pub cannot: Option<String>,
    /// How long it is.
    pub length: Length,
    /// From point to point in the picture frame, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// A run of sealer or of seal tape, or a coat over all of it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SealRun {
    /// Its name.
    pub name: String,
    /// With what.
    pub with: SealWith,
    /// How, in a sentence.
    pub how: &'static str,
    /// How long it is; of a coat, how wide the film is.
    pub length: Length,
    /// Sealer, ml.
    pub ml: f64,
    /// From point to point in the picture frame, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// What a piece asks for once it lies.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AfterLaying {
    /// Heat, in walking order.
    pub runs: Vec<HeatRun>,
    /// Sealer, after the heat.
    pub seals: Vec<SealRun>,
    /// What holds for all of it, in sentences.
    pub says: Vec<String>,
}

impl AfterLaying {
    /// The lowest ceiling of its film, °C; none where nothing is heated.
    pub fn film_ceiling(&self) -> Option<f64> {
        let ceilings = self.runs.iter().map(|r| r.film_ceiling_celsius);
        ceilings.min_by(f64::total_cmp)
    }
}

/// A heat-set film is warmed all over to this, °C, and squeegeed again (common practice).
const SET: Span = Span {
    from: 40.0,
    to: 50.0,
};

/// What must reach which temperature under a piece, and what is sealed. `face` is what follows from the surface on the day.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::heat::runs::{RunOf, after_laying};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let (settings, unit) = (WorkSettings::default(), Unit::Millimetre);
/// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// # let today = time::Date::from_calendar_date(2026, time::Month::November, 27).unwrap();
/// let found = after_laying(&planned, &measured, &side.surface.verdict(today), &settings, unit);
/// // A cast print on a bare side: its edges, 3.2 m, to 185 to 195 °F.
/// assert_eq!((found.runs.len(), found.runs[0].of), (1, RunOf::Edge));
/// assert!((found.runs[0].length.mm - 3200.0).abs() < 1.0 && (found.runs[0].wanted.from - 85.0).abs() < 0.1);
/// ```
pub fn after_laying(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    face: &SurfaceVerdict,
    settings: &WorkSettings,
    unit: Unit,
) -> AfterLaying {
    let film = planned.piece.film_figures();
    let ended = edges(planned, side, &film, settings.blades, unit);
    let limits = Limits::of(&film, face, unit);
    let mut runs = Vec::new();
    if let Some(wanted) = film.post_heat {
        let stretch = stretches_as_settled(planned, side, settings, unit);
        for place in &stretch.places {
            let Some(length) = &place.must_reach else {
                continue;
            };
            let mut lines = place.outlines.clone();
            for line in &mut lines {
                line.extend(line.first().copied());
            }
            runs.push(limits.run(
                place.name.clone(),
                RunOf::Formed,
                "Film was stretched into it: unheated it pulls out again.",
                wanted,
                length.clone(),
                lines,
            ));
        }
    }
    runs.extend(whole(planned, &film, &limits, unit));
    if let Some(wanted) = film.post_heat.filter(|_| film.class != FilmClass::ThickKit) {
        if film.transfer_tape {
            // Letter by letter is one slow pass along each line.
            let b = planned.drawn.bounds;
            runs.push(limits.run(
                "edges of the letters".into(),
                RunOf::Edge,
                "Edges lift first.",
                wanted,
                print(b.width().max(b.height()), unit),
                Vec::new(),
            ));
        }
        for run in &ended.runs {
            let at = match (run.end, &run.at) {
                (EdgeEnd::Body, _) => "edge at the body".to_owned(),
                (EdgeEnd::Flat, _) => "edge on the flat".to_owned(),
                (EdgeEnd::Relief, Some(at)) => format!("relief cut at {at}"),
                (_, Some(at)) => format!("edge at {at}"),
                (_, None) => "edge".to_owned(),
            };
            let mut along = limits.run(
                at,
                RunOf::Edge,
                "Edges lift first.",
                wanted,
                run.length.clone(),
                run.lines.clone(),
            );
            if run.end == EdgeEnd::Gap {
                along.spot = HeatSpot::Member;
            }
            runs.push(along);
        }
    }
    let mut seals: Vec<SealRun> = ended
        .sealed
        .into_iter()
        .map(|r| SealRun {
            name: match (r.with, r.at) {
                (SealWith::Tape, Some(at)) => at,
                (_, Some(at)) => format!("edge at {at}"),
                (_, None) => "whole edge".to_owned(),
            },
            with: r.with,
            how: how(r.with, film.class),
            ml: match r.with {
                SealWith::Sealer => r.length.mm / 1000.0 * settings.sealer_ml_per_m,
                SealWith::Tape | SealWith::Coat => 0.0,
            },
            length: r.length,
            lines: r.lines,
        })
        .collect();
    if film.aftercare_coat {
        seals.push(SealRun {
            name: "aftercare coat".into(),
            with: SealWith::Coat,
            how: how(SealWith::Coat, film.class),
            length: print(planned.drawn.bounds.width(), unit),
            ml: 0.0,
            lines: Vec::new(),
        });
    }
    AfterLaying {
        says: says(&film, &runs, &seals, face, unit),
        runs,
        seals,
    }
}

/// What bounds the heat here.
struct Limits<'a> {
    film: &'a FilmFigures,
    face: f64,
    unit: Unit,
}

impl<'a> Limits<'a> {
    fn of(film: &'a FilmFigures, face: &SurfaceVerdict, unit: Unit) -> Limits<'a> {
        Limits {
            film,
            face: f64::from(face.ceiling_celsius),
            unit,
        }
    }

    fn ceiling(&self) -> f64 {
        self.face.min(self.film.ceiling_celsius)
    }

    fn reaches(&self, wanted: Span) -> bool {
        wanted.from <= self.ceiling()
    }

    fn run(
        &self,
        name: String,
        of: RunOf,
        why: &str,
        wanted: Span,
        length: Length,
        lines: Vec<Vec<[f64; 2]>>,
    ) -> HeatRun {
        let ceiling = self.ceiling();
        let whose = if self.face < self.film.ceiling_celsius {
            "what is under it"
        } else {
            "the film"
        };
        let cannot = (!self.reaches(wanted)).then(|| {
            format!(
                "The film asks for {}, and {whose} stands {} at most: not by heat here. Warm the whole bay and leave it longer, lay it in two pieces, or choose a film that asks for less.",
                told(wanted.from, self.unit),
                told(ceiling, self.unit)
            )
        });
        HeatRun {
            name,
            of,
            why: why.into(),
            says: match cannot {
                Some(_) => format!(
                    "Not by heat: never past {} ({whose}).",
                    told(ceiling, self.unit)
                ),
                None => format!(
                    "{}, never past {} ({whose}).",
                    span(wanted.from, wanted.to.min(ceiling), self.unit),
                    told(ceiling, self.unit)
                ),
            },
            wanted,
            film_ceiling_celsius: self.film.ceiling_celsius,
            face_ceiling_celsius: self.face,
            spot: HeatSpot::Field,
            ceiling_celsius: ceiling,
            cannot,
            length,
            lines,
        }
    }
}

/// How an edge is sealed.
fn how(with: SealWith, class: FilmClass) -> &'static str {
    match with {
        SealWith::Tape => {
            "Half on the film and half on the panel, laid without a stretch and pressed down."
        }
        SealWith::Sealer if class == FilmClass::HullPrint => {
            "Over the edge, generously where it leads into the water. Along the top rail a bead of sealant is an accepted other way."
        }
        SealWith::Sealer => "Over the edge, generously where it leads into wind or water.",
        SealWith::Coat => "Over all of it, with what its own sheet names and as it says.",
    }
}

/// Passes over all of a piece.
fn whole(
    planned: &PlannedPiece,
    film: &FilmFigures,
    limits: &Limits<'_>,
    unit: Unit,
) -> Option<HeatRun> {
    let bounds = planned.drawn.bounds;
    let (name, why, wanted) = if film.adhesive == Adhesive::HeatSet {
        (
            "all of it, to set it",
            "Its adhesive takes hold by heat: warm all of it, then squeegee it again.",
            SET,
        )
    } else if film.class == FilmClass::ThickKit {
        (
            "all of it, two passes",
            "Thick film on texture: until the texture shows, twice; it is never moved afterwards.",
            film.post_heat.or(film.form)?,
        )
    } else if film.layered_reflective && film.post_heat.is_some_and(|heat| limits.reaches(heat)) {
        (
            "all of it, to heal it",
            "Marks of the squeegee on reflective film often heal with heat.",
            film.post_heat?,
        )
    } else {
        return None;
    };
    Some(limits.run(
        name.into(),
        RunOf::Whole,
        why,
        wanted,
        print(bounds.width(), unit),
        Vec::new(),
    ))
}

fn says(
    film: &FilmFigures,
    runs: &[HeatRun],
    seals: &[SealRun],
    face: &SurfaceVerdict,
    unit: Unit,
) -> Vec<String> {
    let mut says = Vec::new();
    if runs.is_empty() {
        says.push(match film.class {
            FilmClass::ConspicuityStrip => "Prismatic strip is not heated.".to_owned(),
            _ => "Nothing of it must be heated.".to_owned(),
        });
    } else {
        says.push("Only over film that lies: film off the panel is far too hot within a second. Hollows and bridged film get short bursts.".into());
        says.push("Thermometer right behind the heat, walk it forward slowly, look at it again. A reading vouches for an inch either way (Windrift\u{2019}s own); the rest is not measured.".into());
        says.push(face.ceiling_sentence.clone());
        if film.layered_reflective && !runs.iter().any(|r| r.of == RunOf::Whole) {
            says.push("Marks of the squeegee would heal at more heat than what is under it stands: press lightly, and leave them.".into());
        }
        if film.layered_reflective {
            says.push(format!(
                "At rivet heads a short burst, not above {}.",
                told(RIVET_CEILING, unit)
            ));
        }
    }
    if seals.iter().any(|s| s.with == SealWith::Sealer) {
        says.push(
            "Heat first, sealer after; no gun on wet sealer. It asks for quiet water or none until it has set."
                .into(),
        );
    }
    if let Some(from) = film.from_memory {
        says.push(format!("From memory, without a sheet: {from}"));
    }
    says
}
