//! Something went wrong while the film went on: what is seen, what it is, what to do.
//!
//! Common practice, no source. What to do depends on the film and on whether it has been heated.

use serde::{Deserialize, Serialize};

use crate::film::classes::{Adhesive, FilmClass};

/// What somebody sees.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Seen {
    /// A light wrinkle.
    LightWrinkle,
    /// Adhesive has met adhesive.
    Pinch,
    /// A bubble.
    Bubble,
    /// The film has gone white.
    Whitening,
    /// Reflective film has gone dark.
    DarkReflective,
    /// A line where it was lifted.
    LiftLine,
    /// Film pulls out of a recess.
    PullsOut,
    /// Two panels run out of register.
    RegisterDrifts,
    /// The tape has let go.
    TapeLetGo,
}

impl Seen {
    /// Everything that can be seen, in the order in which it is offered.
    pub const ALL: [Seen; 9] = [
        Seen::Bubble,
        Seen::LightWrinkle,
        Seen::Pinch,
        Seen::Whitening,
        Seen::DarkReflective,
        Seen::LiftLine,
        Seen::PullsOut,
        Seen::RegisterDrifts,
        Seen::TapeLetGo,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Seen::LightWrinkle => "light wrinkle",
            Seen::Pinch => "pinch",
            Seen::Bubble => "bubble",
            Seen::Whitening => "gone white",
            Seen::DarkReflective => "reflective gone dark",
            Seen::LiftLine => "line from lifting",
            Seen::PullsOut => "pulls out of a recess",
            Seen::RegisterDrifts => "register drifts",
            Seen::TapeLetGo => "tape let go",
        }
    }
}

/// What it is and what to do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Remedy {
    /// What was seen.
    pub seen: Seen,
    /// What it is called.
    pub name: &'static str,
    /// Where it comes from.
    pub cause: &'static str,
    /// What to do, in order.
    pub steps: Vec<&'static str>,
    /// Whether it can be put right on this film.
    pub can_be_saved: bool,
    /// The cautions that its steps ask for.
    pub cautions: Vec<&'static str>,
}

const HEAT: &str = "Hot air: gloves, keep it moving, nothing flammable open nearby. Read the temperature; the film's sheet decides how hot.";
const KNIFE: &str = "Knife: away from your hand, never into the paint.";

/// What the steps ask care for: whoever warms has the caution of hot air, whoever pricks or cuts that of the knife.
fn cautions(steps: &[&str]) -> Vec<&'static str> {
    let words = steps.join(" ").to_lowercase();
    let any = |of: &[&str]| of.iter().any(|w| words.contains(w));
    let mut cautions = Vec::new();
    if any(&["warm", "heat it"]) {
        cautions.push(HEAT);
    }
    if any(&["prick", "cut "]) {
        cautions.push(KNIFE);
    }
    cautions
}

/// What to do about something that is seen on a film that has or has not been heated.
pub fn remedy(seen: Seen, film: FilmClass, heated: bool) -> Remedy {
    let figures = film.figures();
    let solid = figures.adhesive == Adhesive::Solid;
    let reflective = figures.layered_reflective;
    let no_pull = figures.stretch == 0.0;
    let mut saved = true;
    let (cause, steps): (&str, Vec<&str>) = match seen {
        Seen::LightWrinkle if reflective && film != FilmClass::RemovableReflective => {
            saved = false;
            (
                "The layers have parted where it was folded.",
                vec![
                    "It does not heal in this film.",
                    "Lay the piece again, or cut the wrinkle out and patch with a lap where the customer agrees.",
                ],
            )
        }
        Seen::LightWrinkle => (
            "The film was let down with slack in it.",
            vec![
                "Lift it as far as the wrinkle, low and flat.",
                "Warm it: light wrinkles relax.",
                "Lay it again from the side that holds.",
            ],
        ),
        Seen::Pinch if heated && no_pull => {
            saved = false;
            (
                "Adhesive has met adhesive, and it has set.",
                vec!["This film is not moved after heat: a new piece."],
            )
        }
        Seen::Pinch => (
            "Adhesive has met adhesive.",
            vec![
                "Lift the film beyond the pinch, low and flat.",
                "Warm it and part it slowly, never pull it sharply.",
                "Lay it again with less slack.",
            ],
        ),
        Seen::Bubble if solid => (
            "Air was shut in, and this adhesive has no channels.",
            vec![
                "If it is large and the film still lifts, lift and press again towards an open edge.",
                "Else prick it at one side and push from the far side towards the hole; or at the middle, pushing in from the whole rim.",
                "If it comes back where the panel is hollow, it is no bubble: warm the film and form it again.",
            ],
        ),
        Seen::Bubble if heated => (
            "Air was shut in; the channels have closed with the heat.",
            vec![
                "Prick it at one side and push from the far side towards the hole.",
                "Where the panel is hollow it is no bubble: warm it and form it again.",
            ],
        ),
        Seen::Bubble => (
            "Air was shut in.",
            vec![
                "Press it out by hand towards the nearest edge: the channels let it through.",
                "If it stays, prick it at one side.",
                "Where the panel is hollow it is no bubble: warm it and form it again.",
            ],
        ),
        Seen::Whitening => (
            "Stretched too far, or too cold.",
            vec![
                "Lift it and warm it: its memory brings most of it back.",
                "Lay it again with less pull; cut a relief where it does not reach.",
            ],
        ),
        Seen::DarkReflective => {
            saved = false;
            (
                "Stretched too far: the reflective layer has opened.",
                vec![
                    "Lift and warm it; it may not come back.",
                    "Look at it with a lamp from beside your eye before you go on.",
                    "Where it stays dark and the marking must reflect, a new piece.",
                ],
            )
        }
        Seen::LiftLine => (
            "It was lifted too fast, or stopped while lifting.",
            vec![
                "Warm it: such lines often heal.",
                "Lift slowly and without stopping, low and flat.",
            ],
        ),
        Seen::PullsOut if no_pull => {
            saved = false;
            (
                "This film does not form, and it was bridged.",
                vec!["Cut it along the rim and lay the recess by itself, or leave it free."],
            )
        }
        Seen::PullsOut => (
            "It was bridged, or stretched into the recess cold.",
            vec![
                "Lift it back to the rim and warm a band about 50 mm (2 in) back from it.",
                "Form the deepest line first, the flat last, with a way out for the air.",
                "Heat it to the film's temperature afterwards, and read it. If it pulls out again: relief cut or inlay.",
            ],
        ),
        Seen::RegisterDrifts if heated => {
            saved = false;
            (
                "The panel was pulled along while it was laid.",
                vec![
                    "Set film is not moved: split the difference over what is left, and tell the customer before you go on.",
                ],
            )
        }
        Seen::RegisterDrifts => (
            "The panel was pulled along while it was laid.",
            vec![
                "Stop. Lift the panel back to where it still matched.",
                "Check register along the whole lap before you press again.",
                "Keep the lap's width, and let the error run to the edge that is trimmed.",
            ],
        ),
        Seen::TapeLetGo if solid => {
            saved = false;
            (
                "The tape was not rubbed down, or it was cold.",
                vec![
                    "Where the adhesive has touched, do not pull: what lies is what you have.",
                    "Two people: lift the free part off, liner back on it, read both ends again.",
                    "If it lies crooked by more than the tolerance, a new piece.",
                ],
            )
        }
        Seen::TapeLetGo => (
            "The tape was not rubbed down, or it was cold.",
            vec![
                "Lift the film before it is pressed; liner back on.",
                "New tape, rubbed down harder, and warmed.",
                "Read both ends again before you go on.",
            ],
        ),
    };
    Remedy {
        seen,
        name: seen.name(),
        cause,
        can_be_saved: saved,
        cautions: cautions(&steps),
        steps,
    }
}
