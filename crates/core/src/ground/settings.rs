//! What a shop settles once: margins, tape and words. Defaults are ours where no practice is named.

use serde::{Deserialize, Serialize};

use crate::ground::climate::Climate;
use crate::ground::hours::ShopHours;
use crate::ground::mm::Mm;
use crate::ground::tape::MM_PER_INCH;
use crate::ground::told::Told;
use crate::ground::weights::Weights;
use crate::ground::zone::Zone;

/// Words for left and right that do not depend on where one stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SideWords {
    /// Street side and curb side, where traffic keeps right.
    StreetCurbKeepRight,
    /// Street side and curb side, where traffic keeps left.
    StreetCurbKeepLeft,
    /// Near side and off side, where traffic keeps left.
    NearOffKeepLeft,
}

impl SideWords {
    /// The words for the vehicle's left and right.
    pub fn left_right(self) -> (&'static str, &'static str) {
        match self {
            SideWords::StreetCurbKeepRight => ("street side", "curb side"),
            SideWords::StreetCurbKeepLeft => ("curb side", "street side"),
            SideWords::NearOffKeepLeft => ("near side", "off side"),
        }
    }
}

/// A shop's own ways of working. Lengths in mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkSettings {
    /// What the two sides of a vehicle are called here.
    pub side_words: SideWords,
    /// Transfer tape beyond the film on every side.
    pub carrier_margin_mm: Mm,
    /// Width of the masking tape for hinges.
    pub tape_width_mm: Mm,
    /// Longest piece of tape that one person lays straight.
    pub tape_piece_mm: Mm,
    /// Length of a corner tab.
    pub tab_length_mm: Mm,
    /// Clear carrier wanted on each side of a parting cut.
    pub cut_clearance_mm: Mm,
    /// Thinnest stroke that this shop weeds.
    #[serde(default = "thinnest_stroke")]
    pub thinnest_stroke_mm: Mm,
    /// Smallest piece of film that this shop weeds, across.
    #[serde(default = "smallest_island")]
    pub smallest_island_mm: Mm,
    /// The two sides of a vehicle may differ by this before it is a trouble.
    #[serde(default = "pair_tolerance")]
    pub pair_tolerance_mm: Mm,
    /// What the printer leaves blank along each edge of a roll.
    #[serde(default = "printer_margin")]
    pub printer_margin_mm: Mm,
    /// Joins of panels are tried at every multiple of this.
    #[serde(default = "panel_step")]
    pub panel_step_mm: Mm,
    /// How far film reaches past a gap at which a print is parted, to be turned in.
    #[serde(default = "turn_in")]
    pub turn_in_mm: Mm,
    /// Space between pieces on a roll.
    #[serde(default = "cut_gap")]
    pub cut_gap_mm: Mm,
    /// The box that is cut round lettering for weeding stands off it this far.
    #[serde(default = "weeding_margin")]
    pub weeding_margin_mm: Mm,
    /// A picture with fewer pixels to the inch at full size is told to look coarse.
    #[serde(default = "least_ppi")]
    pub least_ppi: f64,
    /// Adhesion promoter for each metre of edge, ml.
    #[serde(default = "promoter_ml_per_m")]
    pub promoter_ml_per_m: f64,
    /// Minutes until promoter is tacky: 10 by one school, a couple by the other.
    #[serde(default = "tacky_minutes")]
    pub tacky_minutes: f64,
    /// Liquid edge sealer for each metre of edge, ml.
    #[serde(default = "sealer_ml_per_m")]
    pub sealer_ml_per_m: f64,
    /// Edge that one blade cuts before it is snapped, m.
    #[serde(default = "metres_per_blade")]
    pub metres_per_blade: f64,
    /// Wipes for each square metre that film goes on.
    #[serde(default = "wipes_per_m2")]
    pub wipes_per_m2: f64,
    /// How film is brought into a recess.
    #[serde(default)]
    pub forming: FormingSchool,
    /// How wide a band is warmed round a recess, mm.
    #[serde(default = "warm_band")]
    pub warm_band_mm: Mm,
    /// Whether latex and UV prints wait 24 h before laminate too, as solvent ones do.
    #[serde(default)]
    pub every_ink_waits: bool,
    /// Whether a blade goes to paint.
    #[serde(default)]
    pub blades: BladeSchool,
    /// Where its vehicles stand.
    #[serde(default)]
    pub climate: Climate,
    /// Hours of the shop.
    #[serde(default)]
    pub hours: ShopHours,
    /// What each pair of hands after the first adds where old film comes off, as a share of the first.
    #[serde(default = "second_pair")]
    pub second_pair: f64,
    /// The time zone that the shop's clock shows.
    #[serde(default)]
    pub zone: Zone,
    /// What weighs how much when a better spot is looked for.
    #[serde(default)]
    pub weights: Weights,
}

/// Strokes and islands: Windrift's own, no source.
fn thinnest_stroke() -> Mm {
    Mm::of(1.5)
}

fn smallest_island() -> Mm {
    Mm::of(3.0)
}

/// What follows is Windrift's own, no source: printers and cutters differ.
fn printer_margin() -> Mm {
    Mm::of(15.0)
}

fn panel_step() -> Mm {
    Mm::of(MM_PER_INCH / 4.0)
}

/// 1/2 in (ours): about half of it is left to form round once it is trimmed.
fn turn_in() -> Mm {
    12.7.into()
}

fn cut_gap() -> Mm {
    Mm::of(10.0)
}

fn weeding_margin() -> Mm {
    Mm::of(MM_PER_INCH / 2.0)
}

fn least_ppi() -> f64 {
    72.0
}

/// A band of 25 mm, at 160 ml to the square metre.
/// Common practice, no source; the other school waits 2.
fn tacky_minutes() -> f64 {
    10.0
}

fn promoter_ml_per_m() -> f64 {
    4.0
}

fn sealer_ml_per_m() -> f64 {
    3.0
}

fn metres_per_blade() -> f64 {
    4.0
}

fn wipes_per_m2() -> f64 {
    2.0
}

/// Two people on one side stand in each other's way (ours).
fn second_pair() -> f64 {
    0.8
}

/// 2 in (common practice, no source).
fn warm_band() -> Mm {
    Mm::of(2.0 * MM_PER_INCH)
}

/// One sixteenth of an inch, as far as a tape is read.
fn pair_tolerance() -> Mm {
    Mm::of(MM_PER_INCH / 16.0)
}

/// How film is brought into a recess: two schools (common practice, no source).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FormingSchool {
    /// A band back from the rim is warmed, so that what ends up inside is hardly stretched.
    #[default]
    Band,
    /// The film is bridged, and the bridge itself is warmed.
    Bridge,
}

/// How film is cut on the vehicle: two schools (common practice, no source).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BladeSchool {
    /// No blade goes to paint: cutting tape, laid before the film.
    #[default]
    Tape,
    /// A guarded or very light blade.
    Guarded,
}

impl WorkSettings {
    /// Whether every figure can be worked with; the sentence says which cannot.
    pub fn check(&self) -> Result<(), Told> {
        let figures = [
            (
                "The transfer tape's margin",
                self.carrier_margin_mm,
                0.0,
                300.0,
            ),
            (
                "The width of the masking tape",
                self.tape_width_mm,
                6.0,
                150.0,
            ),
            (
                "The longest piece of tape",
                self.tape_piece_mm,
                100.0,
                5000.0,
            ),
            (
                "The length of a corner tab",
                self.tab_length_mm,
                20.0,
                500.0,
            ),
            (
                "The clearance of a parting cut",
                self.cut_clearance_mm,
                0.5,
                50.0,
            ),
            ("The thinnest stroke", self.thinnest_stroke_mm, 0.1, 50.0),
            (
                "The smallest piece of film",
                self.smallest_island_mm,
                0.1,
                100.0,
            ),
            (
                "What the printer leaves blank",
                self.printer_margin_mm,
                0.0,
                100.0,
            ),
            ("The step of joins", self.panel_step_mm, 1.0, 100.0),
            ("What is turned in", self.turn_in_mm, 0.0, 100.0),
            (
                "The space between pieces on a roll",
                self.cut_gap_mm,
                0.0,
                100.0,
            ),
            ("The warm band", self.warm_band_mm, 0.0, 300.0),
            ("The weeding box", self.weeding_margin_mm, 0.0, 100.0),
            (
                "What two sides may differ by",
                self.pair_tolerance_mm,
                0.1,
                50.0,
            ),
        ];
        for (what, mm, least, most) in figures {
            if !(least..=most).contains(&mm) {
                return Err(Told::new(
                    "settings",
                    format!("{what} must be between {least} and {most} mm."),
                ));
            }
        }
        if !(1.0..=1000.0).contains(&self.least_ppi) {
            return Err(Told::new(
                "settings",
                "The fewest pixels to the inch must be between 1 and 1000.",
            ));
        }
        self.hours.check()?;
        if !(0.0..=1.0).contains(&self.second_pair) {
            return Err(Told::new(
                "settings",
                "A second pair of hands adds from 0 to 1 of the first.",
            ));
        }
        let rates = [
            ("Promoter for a metre of edge", self.promoter_ml_per_m, 0.0),
            ("Minutes until promoter is tacky", self.tacky_minutes, 1.0),
            ("Sealer for a metre of edge", self.sealer_ml_per_m, 0.0),
            ("What a blade cuts, in metres,", self.metres_per_blade, 0.1),
            ("Wipes for a square metre", self.wipes_per_m2, 0.0),
        ];
        for (what, rate, least) in rates {
            if !(least..=200.0).contains(&rate) {
                return Err(Told::new(
                    "settings",
                    format!("{what} must be between {least} and 200."),
                ));
            }
        }
        self.weights
            .check()
            .map_err(|sentence| Told::new("settings", sentence))
    }
}

impl Default for WorkSettings {
    fn default() -> Self {
        WorkSettings {
            side_words: SideWords::StreetCurbKeepRight,
            carrier_margin_mm: 25.4.into(),
            tape_width_mm: 50.8.into(),
            tape_piece_mm: 914.4.into(),
            tab_length_mm: 101.6.into(),
            cut_clearance_mm: 2.0.into(),
            thinnest_stroke_mm: thinnest_stroke(),
            smallest_island_mm: smallest_island(),
            pair_tolerance_mm: pair_tolerance(),
            printer_margin_mm: printer_margin(),
            panel_step_mm: panel_step(),
            turn_in_mm: turn_in(),
            cut_gap_mm: cut_gap(),
            weeding_margin_mm: weeding_margin(),
            least_ppi: least_ppi(),
            promoter_ml_per_m: promoter_ml_per_m(),
            tacky_minutes: tacky_minutes(),
            sealer_ml_per_m: sealer_ml_per_m(),
            metres_per_blade: metres_per_blade(),
            forming: FormingSchool::default(),
            warm_band_mm: warm_band(),
            every_ink_waits: false,
            blades: BladeSchool::default(),
            climate: Climate::default(),
            wipes_per_m2: wipes_per_m2(),
            hours: ShopHours::default(),
            second_pair: second_pair(),
            zone: Zone::UTC,
            weights: Weights::default(),
        }
    }
}
