//! What is settled about the marking of a vehicle and of each of its faces.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::applies::MarkedVehicle;
use super::colours::from_roll;
use super::rules::RuleSet;
use super::strip::{ColourRun, Element, Stock, Strip, TapeColour};
use crate::ground::mm::Mm;
use crate::ground::told::Told;
use crate::marking::laying::WayOfLaying;
use crate::marking::reflectors::Reflectors;
use crate::marking::retro_reading::RetroReading;

/// Most strips of a layout that is audited.
pub const MOST_STRIPS: usize = 200;
/// Most colours in one strip.
const MOST_RUNS: usize = 150;

/// A vehicle and the rules that it is marked by.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VehicleMarking {
    /// The rules.
    pub set: RuleSet,
    /// What the rules ask of a vehicle.
    pub vehicle: MarkedVehicle,
}

impl VehicleMarking {
    /// Whether its figures can be a vehicle's.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        let v = &self.vehicle;
        let odd = |figure: Option<f64>, least: f64, most: f64| {
            figure.is_some_and(|f| !(f.is_finite() && (least..=most).contains(&f)))
        };
        if odd(v.width_mm.map(Mm::mm), 200.0, 6000.0) {
            return Err(Told::new("vehicle", "The overall width must be between 200 mm and 6 m. Measure it again, or leave it empty.").at("/vehicle/width_mm"));
        }
        if odd(v.length_mm.map(Mm::mm), 500.0, 60_000.0) {
            return Err(Told::new("vehicle", "The overall length must be between 500 mm and 60 m. Measure it again, or leave it empty.").at("/vehicle/length_mm"));
        }
        if odd(v.mass.as_ref().map(|m| m.kg), 10.0, 200_000.0) {
            return Err(Told::new("vehicle", "The weight rating must be between 10 and 200,000 kg (22 and 440,000 lb). Read the plate again, or leave it empty.").at("/vehicle/mass"));
        }
        Ok(())
    }
}

/// The horizontal member of a rear underride device.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UnderrideMember {
    /// Where it begins along the rear, mm.
    pub from_mm: Mm,
    /// Where it ends, mm.
    pub to_mm: Mm,
    /// Its lower edge above the ground, mm.
    pub foot_mm: Mm,
    /// Its upper edge above the ground, mm.
    pub top_mm: Mm,
    /// Spans along it that stay free, such as its label, mm.
    #[serde(default)]
    pub free_of: Vec<FreeSpan>,
}

/// A span that stays free of tape.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FreeSpan {
    /// From, mm.
    pub from_mm: Mm,
    /// To, mm.
    pub to_mm: Mm,
}

/// Where the strips of a tractor's rear go.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TractorPlace {
    /// On the rear fenders.
    Fender,
    /// On the mudflaps.
    Mudflap,
    /// On the mudflaps' support brackets, or on plates on them.
    Bracket,
    /// Without flaps: on brackets outboard of the frame, behind the rear axle.
    BehindAxle,
    /// Without flaps: on brackets ahead of the rear axle, above the tyres' tops.
    AheadOfAxle,
    /// On the back of the cab.
    Cab,
}

/// Where the strips of a tractor's rear can lie.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TractorRear {
    /// On what.
    pub place: TractorPlace,
    /// The surface at the zero end along the rear, mm.
    pub zero: FreeSpan,
    /// The surface at the far end, mm.
    pub far: FreeSpan,
    /// Lower edge of both above the ground, mm.
    pub foot_mm: Mm,
    /// Upper edge of both above the ground, mm.
    pub top_mm: Mm,
    /// Lower edge of the mudflaps' support bracket above the ground, mm.
    #[serde(default)]
    pub bracket_mm: Option<Mm>,
    /// Tops of the tyres above the ground, unladen, mm.
    #[serde(default)]
    pub tyre_mm: Option<Mm>,
}

/// A strip as it was read back on the vehicle.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadStrip {
    /// Which part of the face it marks.
    #[serde(default)]
    pub element: Element,
    /// Where it begins along the side; of an upright one its lower end above the ground, mm.
    pub from_mm: Mm,
    /// Where it ends; of an upright one its upper end above the ground, mm.
    pub to_mm: Mm,
    /// Height of its middle above the ground; of an upright one its edge along the side, mm.
    pub at_mm: Mm,
    /// Width, mm.
    pub width_mm: Mm,
    /// The colour that it begins with.
    pub begins: TapeColour,
    /// Whether it is of that colour alone, not of the tape's pattern.
    #[serde(default)]
    pub alone: bool,
    /// Whether it runs upwards.
    #[serde(default)]
    pub upright: bool,
    /// Open space between its halves, where it is split, mm.
    #[serde(default)]
    pub split_mm: Option<Mm>,
    /// A row of reflex reflectors in place of tape.
    #[serde(default)]
    pub reflectors: Option<Reflectors>,
    /// How far down from the reference its upper edge was read, which is the edge that the plan marks; its middle follows from it, mm.
    #[serde(default)]
    pub down_mm: Option<Mm>,
    /// Where it was planned; nothing for one that was not.
    #[serde(default)]
    pub plan: Option<PlannedStrip>,
    /// What of it has not been read yet: as long as there is something, it is no strip of this vehicle.
    #[serde(default)]
    pub unread: Unread,
    /// It was planned and is not there.
    #[serde(default)]
    pub missing: bool,
}

/// Where a strip was planned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlannedStrip {
    /// Where it begins; of an upright one its lower end above the ground, mm.
    pub from_mm: Mm,
    /// Where it ends, mm.
    pub to_mm: Mm,
    /// How far down its upper edge is; of an upright one its edge along the side, mm.
    pub at_mm: Mm,
    /// The colour that it begins with.
    pub begins: TapeColour,
}

/// What of a planned strip has not been read yet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unread {
    /// Where it begins.
    #[serde(default)]
    pub from: bool,
    /// Where it ends.
    #[serde(default)]
    pub to: bool,
    /// Its height.
    #[serde(default)]
    pub at: bool,
}

impl Unread {
    /// Nothing read yet.
    pub const ALL: Unread = Unread {
        from: true,
        to: true,
        at: true,
    };

    /// Whether there is something left to read.
    pub fn any(self) -> bool {
        self.from || self.to || self.at
    }
}

impl ReadStrip {
    /// Whether it is a strip that somebody has read on the vehicle.
    pub fn is_there(&self) -> bool {
        !self.missing && !self.unread.any()
    }

    /// A planned strip of which nothing has been read yet. `ground_mm`: the reference above the ground.
    pub fn unread_of(strip: &Strip, ground_mm: f64) -> ReadStrip {
        let read = ReadStrip::of(strip);
        let down = ground_mm - strip.rect().height_mm.1;
        let at_mm = if strip.upright { read.at_mm.mm() } else { down };
        ReadStrip {
            down_mm: (!strip.upright).then(|| down.into()),
            plan: Some(PlannedStrip {
                from_mm: read.from_mm,
                to_mm: read.to_mm,
                at_mm: at_mm.into(),
                begins: read.begins,
            }),
            unread: Unread::ALL,
            ..read
        }
    }

    /// How a strip would be read.
    pub fn of(strip: &Strip) -> ReadStrip {
        let all = strip.rect();
        let (span, at_mm) = if strip.upright {
            (all.height_mm, all.back_mm.0)
        } else {
            (all.back_mm, strip.centre_mm.mm())
        };
        ReadStrip {
            element: strip.element,
            from_mm: span.0.into(),
            to_mm: span.1.into(),
            at_mm: at_mm.into(),
            width_mm: strip.width_mm,
            begins: strip.runs.first().map_or(TapeColour::White, |r| r.colour),
            alone: strip.runs.len() == 1,
            upright: strip.upright,
            split_mm: strip.split_mm,
            reflectors: strip.reflectors,
            down_mm: None,
            plan: None,
            unread: Unread::default(),
            missing: false,
        }
    }

    /// The strip, its colours by the tape's pattern from where that colour begins. `ground_mm`: the reference above the ground.
    pub fn strip(&self, stock: &Stock, ground_mm: f64) -> Strip {
        let middle = match self.down_mm {
            Some(down) => ground_mm - down - self.width_mm.mm() / 2.0,
            None => self.at_mm.mm(),
        };
        let length = self.to_mm - self.from_mm;
        let mut from = 0.0;
        let known = stock.pattern.iter().find_map(|r| {
            let at = from;
            from += r.length_mm;
            (r.colour == self.begins).then_some(at)
        });
        let runs = match (known, &self.reflectors) {
            (_, Some(row)) => row.runs(length, self.begins, self.alone),
            (Some(at), None) if !self.alone => from_roll(&stock.pattern, at, length),
            _ => vec![ColourRun {
                colour: self.begins,
                length_mm: length.into(),
            }],
        };
        Strip {
            start_mm: if self.upright {
                self.at_mm
            } else {
                self.from_mm
            },
            centre_mm: if self.upright {
                ((self.from_mm + self.to_mm) / 2.0).into()
            } else {
                middle.into()
            },
            width_mm: self.width_mm,
            runs,
            upright: self.upright,
            split_mm: self.split_mm,
            reflectors: self.reflectors,
            element: self.element,
        }
    }
}

/// The marking of one face as the crew has settled it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FaceMarking {
    /// The side's reference above the ground at curb weight, mm.
    pub ground_mm: Mm,
    /// The tape.
    pub stock: Stock,
    /// How it is laid along the line.
    pub way: WayOfLaying,
    /// Largest gap that the shop wants, mm.
    #[serde(default)]
    pub gap_limit_mm: Option<Mm>,
    /// Longest strip that is laid at intervals, mm; nothing for two repeats of the pattern.
    #[serde(default)]
    pub strip_mm: Option<Mm>,
    /// Film beyond what is asked, so that a strip can be cut back later, mm; nothing for one repeat of the pattern.
    #[serde(default)]
    pub spare_mm: Option<Mm>,
    /// The underride device, at a trailer's rear.
    #[serde(default)]
    pub underride: Option<UnderrideMember>,
    /// Where strips go at a tractor's rear.
    #[serde(default)]
    pub tractor: Option<TractorRear>,
    /// Strips changed by hand, in place of the plan's.
    #[serde(default)]
    pub own: Option<Vec<Strip>>,
    /// Strips as they were read back on the floor.
    #[serde(default)]
    pub read_back: Option<Vec<ReadStrip>>,
    /// Why something is as close as practicable, by the finding's key.
    #[serde(default)]
    pub reasons: BTreeMap<String, String>,
    /// Readings of a retroreflectometer.
    #[serde(default)]
    pub readings: Vec<RetroReading>,
}

fn spans_in_order(at: &str, spans: &[(f64, f64, &str)]) -> Result<(), Told> {
    for (from, to, what) in spans {
        if !(from.is_finite() && to.is_finite() && to > from && from.abs() < 1e5 && to.abs() < 1e5)
        {
            return Err(Told::new(
                "marking",
                format!("{what} must end after it begins. Measure both again."),
            )
            .at(at.to_owned()));
        }
    }
    Ok(())
}

/// Whether strips can be audited at all; that two overlap is for the audit to say.
///
/// Errors: the field and what is wrong with it.
pub fn check_strips(at: &str, strips: &[Strip]) -> Result<(), Told> {
    let wrong = |n: usize, sentence: &str| {
        Err(Told::new("marking", sentence.to_owned()).at(format!("{at}/{n}")))
    };
    if strips.len() > MOST_STRIPS {
        return Err(Told::new(
            "marking",
            format!(
                "There are {} strips; {MOST_STRIPS} is the most.",
                strips.len()
            ),
        )
        .at(at.to_owned()));
    }
    for (n, s) in strips.iter().enumerate() {
        let figures = [s.start_mm.mm(), s.centre_mm.mm(), s.width_mm.mm()];
        let runs_ok = !s.runs.is_empty()
            && s.runs.len() <= MOST_RUNS
            && s.runs
                .iter()
                .all(|r| r.length_mm.is_finite() && r.length_mm > 0.0 && r.length_mm < 1e5);
        if !runs_ok
            || figures.iter().any(|v| !v.is_finite() || v.abs() > 1e5)
            || s.width_mm <= 0.0
            || s.split_mm
                .is_some_and(|o| !(0.0..s.width_mm.mm()).contains(&o.mm()))
        {
            return wrong(
                n,
                "Each strip needs a start, a height, a width and at least one length of colour. Read it again.",
            );
        }
        if s.rect().height_mm.0 < 0.0 {
            return wrong(
                n,
                "A strip lies below the ground. Heights are above the road.",
            );
        }
    }
    Ok(())
}

impl FaceMarking {
    /// Nothing settled but the tape, and how far the side's reference lies above the ground, mm: laid with spaces, as the plan finds it.
    pub fn of_stock(stock: Stock, ground_mm: f64) -> FaceMarking {
        FaceMarking {
            ground_mm: ground_mm.into(),
            stock,
            way: WayOfLaying::Spaced,
            gap_limit_mm: None,
            strip_mm: None,
            spare_mm: None,
            underride: None,
            tractor: None,
            own: None,
            read_back: None,
            reasons: BTreeMap::new(),
            readings: Vec::new(),
        }
    }

    /// The strips that were read on the vehicle: neither those that are still to be read nor those that are missing.
    pub fn strips_read(&self) -> Vec<Strip> {
        let read = self.read_back.iter().flatten().filter(|r| r.is_there());
        read.map(|r| r.strip(&self.stock, self.ground_mm.mm()))
            .collect()
    }

    /// The numbers that those have among all that are read, from 1.
    pub fn numbers_read(&self) -> Vec<usize> {
        let read = (1..).zip(self.read_back.iter().flatten());
        read.filter(|(_, r)| r.is_there()).map(|(n, _)| n).collect()
    }

    /// Whether it can be worked with. Strips may be wrong by the rule; they must be strips.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        if !(self.ground_mm > 0.0 && self.ground_mm < 8000.0) {
            return Err(Told::new(
                "marking",
                "Measure from the rail down to the ground: the height must be between 0 and 8 m.",
            )
            .at("/ground_mm"));
        }
        self.stock.check().map_err(|told| told.at("/stock"))?;
        if self
            .gap_limit_mm
            .is_some_and(|mm| !(mm.is_finite() && (10.0..=20_000.0).contains(&mm)))
        {
            return Err(Told::new(
                "marking",
                "The largest gap wanted must be between 10 mm and 20 m.",
            )
            .at("/gap_limit_mm"));
        }
        if self.strip_mm.is_some_and(|mm| {
            !(mm.is_finite() && (self.stock.module_mm() - 0.5..=20_000.0).contains(&mm.mm()))
        }) {
            return Err(Told::new(
                "marking",
                "A strip is at least as long as one repeat of the tape's pattern, and at most 20 m.",
            )
            .at("/strip_mm"));
        }
        if self
            .spare_mm
            .is_some_and(|mm| !(mm.is_finite() && (0.0..=20_000.0).contains(&mm.mm())))
        {
            return Err(Told::new(
                "marking",
                "What is wanted to spare must be between nothing and 20 m.",
            )
            .at("/spare_mm"));
        }
        if let Some(u) = &self.underride {
            spans_in_order(
                "/underride",
                &[
                    (u.from_mm.mm(), u.to_mm.mm(), "The underride member"),
                    (u.foot_mm.mm(), u.top_mm.mm(), "The member's height"),
                ],
            )?;
            let spans: Vec<(f64, f64, &str)> = u
                .free_of
                .iter()
                .map(|s| (s.from_mm.mm(), s.to_mm.mm(), "What stays free"))
                .collect();
            spans_in_order("/underride/free_of", &spans)?;
        }
        if let Some(t) = &self.tractor {
            spans_in_order(
                "/tractor",
                &[
                    (t.zero.from_mm.mm(), t.zero.to_mm.mm(), "The first surface"),
                    (t.far.from_mm.mm(), t.far.to_mm.mm(), "The second surface"),
                    (t.foot_mm.mm(), t.top_mm.mm(), "The surfaces' height"),
                ],
            )?;
        }
        check_strips("/own", self.own.as_deref().unwrap_or_default())?;
        let read = self.read_back.as_deref().unwrap_or_default();
        for (n, r) in read.iter().enumerate() {
            spans_in_order(
                &format!("/read_back/{n}"),
                &[(r.from_mm.mm(), r.to_mm.mm(), &format!("Strip {}", n + 1))],
            )?;
            if let Some(row) = &r.reflectors {
                let at = format!("/read_back/{n}/reflectors");
                row.check().map_err(|told| told.within(&at))?;
            }
        }
        let strips = self.strips_read();
        check_strips("/read_back", &strips)?;
        if self.reasons.len() > 60 || self.readings.len() > 200 {
            return Err(Told::new(
                "marking",
                "That is more than one face has. At most 200 readings and 60 reasons.",
            )
            .at("/readings"));
        }
        self.readings
            .iter()
            .enumerate()
            .try_for_each(|(n, r)| r.check().map_err(|told| told.at(format!("/readings/{n}"))))
    }
}
