//! The order of work of marking, step by step, with its cautions. Common practice, no source.

use crate::film::classes::FilmClass;
use crate::marking::face_marking::FaceMarking;
use crate::marking::strip::Strip;

/// Strips higher above the road than this ask for something to stand on, mm (ours).
pub const STAND_ABOVE_MM: f64 = 2000.0;
/// Cut back from hardware, mm: an eighth of an inch (common practice, no source).
pub const CUT_BACK_MM: f64 = 3.175;

/// What is done, in order. `heads` rivet heads lie under the tape.
///
/// ```
/// # use windrift_core::marking::{ColourRun, FaceMarking, Stock, TapeColour, WayOfLaying, work::steps};
/// let stock = Stock {
///     grade: "C2".into(),
///     width_mm: 50.8.into(),
///     pattern: vec![ColourRun { colour: TapeColour::White, length_mm: 304.8.into() }],
///     pre_cut_mm: None,
///     marks: None,
/// };
/// let marking = FaceMarking::of_stock(stock, 1000.0);
/// let told = steps(12, &marking, &[]);
/// assert!(told[0].contains("between 10 and 38 °C"));
/// assert!(told.iter().any(|s| s.starts_with("12 rivet heads")));
/// assert!(told.last().unwrap().contains("record the audit"));
/// ```
pub fn steps(heads: u32, marking: &FaceMarking, strips: &[Strip]) -> Vec<String> {
    let tape = FilmClass::ConspicuityStrip.figures();
    let (cold, warm) = (tape.fit_from_celsius, tape.fit_to_celsius);
    let fahrenheit = |celsius: f64| celsius * 1.8 + 32.0;
    let mut steps = vec![
        format!(
            "Chock the vehicle, key out; mind traffic behind you. Wash, degrease, wipe with alcohol (its safety sheet governs), let it dry. Surface and tape between {cold:.0} and {warm:.0} \u{b0}C ({:.0} and {:.0} \u{b0}F).",
            fahrenheit(cold),
            fahrenheit(warm)
        ),
        "Mark the upper edge from the reference at both ends, and every start and end along it."
            .to_owned(),
        "Lay each strip from its start, its liner drawn off low and flat; press it once with a firm squeegee."
            .to_owned(),
        format!(
            "Cut back {CUT_BACK_MM:.0} mm (1/8 in) from hinges, latches and other hardware, away from your hand, not into the paint."
        ),
    ];
    if heads > 0 {
        steps.push(format!("{heads} rivet heads lie under the tape: bridge each, punch or cut round it, press the ring down."));
    }
    if strips.iter().any(|s| s.split_mm.is_some()) {
        steps.push("Split strips: lay the upper half, then the lower one, both of one length and colour, the rivet row between them.".to_owned());
    }
    if strips
        .iter()
        .any(|s| s.upright || s.rect().height_mm.1 > STAND_ABOVE_MM)
    {
        steps.push("Strips above 2 m: a platform or ladder that stands firm, not a tyre or a rung held by hand.".to_owned());
    }
    let grade = &marking.stock.grade;
    steps.push(format!(
        "Look that every colour that was trimmed still shows its mark{}.",
        if grade.starts_with('C') && grade.len() > 1 {
            format!(" (DOT-{grade})")
        } else {
            String::new()
        }
    ));
    steps.push("Read back every start, end and height, and record the audit.".to_owned());
    steps
}
