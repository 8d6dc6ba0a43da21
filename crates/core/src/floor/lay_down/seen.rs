//! Something went wrong while the film went on: what is seen, what it is, what to do.
//!
//! Common practice, no source. What to do depends on the film and on what was done to it: a solid adhesive is not lifted back, a thick kit is
//! never moved after heat, prismatic strip is never warmed, and only some films have channels that let air out.

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
    /// Dirt under the film.
    Dirt,
    /// The film has torn.
    Tear,
    /// The knife went through the film, or into the paint.
    KnifeCut,
    /// An edge lifts.
    LiftingEdge,
}

impl Seen {
    /// Everything that can be seen, in the order in which it is offered.
    pub const ALL: [Seen; 13] = [
        Seen::Bubble,
        Seen::LightWrinkle,
        Seen::Pinch,
        Seen::Dirt,
        Seen::LiftingEdge,
        Seen::Tear,
        Seen::KnifeCut,
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
            Seen::Dirt => "dirt under it",
            Seen::Tear => "tear",
            Seen::KnifeCut => "knife cut",
            Seen::LiftingEdge => "edge lifts",
        }
    }

    /// Whether a film can show it at all: only layered reflective goes dark, and it does so where other film goes white; nothing whitens or
    /// darkens that is never stretched; only panels run out of register; only what lifts keeps a line from lifting.
    pub fn shows_on(self, film: FilmClass) -> bool {
        let figures = film.figures();
        let stretched = figures.stretch > 0.0;
        match self {
            Seen::Whitening => stretched && !figures.layered_reflective,
            Seen::DarkReflective => stretched && figures.layered_reflective,
            Seen::LiftLine => figures.adhesive != Adhesive::Solid,
            Seen::RegisterDrifts => !matches!(
                film,
                FilmClass::CutLettering | FilmClass::ConspicuityStrip | FilmClass::ThickKit
            ),
            _ => true,
        }
    }
}

/// One thing to do, with the caution that it asks for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Step {
    /// What to do.
    pub text: &'static str,
    /// What to take care of while it is done.
    pub caution: Option<&'static str>,
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
    pub steps: Vec<Step>,
    /// Whether it can be put right on this film.
    pub can_be_saved: bool,
}

const HEAT: &str = "Hot air: gloves, keep it moving, nothing flammable open nearby, no solvent still wet. Read the temperature; the film's sheet decides how hot.";
const KNIFE: &str = "Knife: away from your hand, never into the paint.";
const SOLVENT: &str = "Alcohol: air, gloves, no flame and no hot air near it until it is dry. Its safety sheet decides.";

fn plain(text: &'static str) -> Step {
    Step {
        text,
        caution: None,
    }
}

/// A step that warms.
fn hot(text: &'static str) -> Step {
    Step {
        text,
        caution: Some(HEAT),
    }
}

/// A step that pricks or cuts.
fn blade(text: &'static str) -> Step {
    Step {
        text,
        caution: Some(KNIFE),
    }
}

/// A step that wipes with alcohol.
fn wipe(text: &'static str) -> Step {
    Step {
        text,
        caution: Some(SOLVENT),
    }
}

/// What was done to a film, and what may be done to it still.
struct May {
    /// It lifts back off the body, low and flat.
    lift: bool,
    /// It may be warmed.
    warm: bool,
    /// Its channels let air out.
    channels: bool,
    /// It is stretched and formed.
    form: bool,
}

fn may(film: FilmClass, heated: bool) -> May {
    let figures = film.figures();
    let lift = match figures.adhesive {
        Adhesive::AirChannels => true,
        Adhesive::HeatSet => !heated,
        // A thick kit lifts while it is cold, and is never moved after heat; no other solid adhesive lifts once it is pressed.
        Adhesive::Solid => film == FilmClass::ThickKit && !heated,
    };
    May {
        lift,
        warm: film != FilmClass::ConspicuityStrip,
        channels: figures.adhesive == Adhesive::AirChannels && !heated,
        form: figures.stretch > 0.0,
    }
}

const NEW_PIECE: &str = "What does not come right: a new piece.";

/// What to do about something that is seen on a film that has or has not been heated. Nothing where the film cannot show it.
///
/// ```
/// # use windrift_core::{film::classes::FilmClass, floor::lay_down::seen::{Seen, remedy}};
/// // Air under a print with channels is pressed out by hand; prismatic strip is pricked, and nothing about it is warmed.
/// assert!(remedy(Seen::Bubble, FilmClass::CastPrint, false).unwrap().steps[0].text.contains("by hand"));
/// let strip = remedy(Seen::Bubble, FilmClass::ConspicuityStrip, false).unwrap();
/// assert!(strip.steps[0].text.contains("Prick"));
/// // Only reflective goes dark.
/// assert!(remedy(Seen::DarkReflective, FilmClass::CastPrint, false).is_none());
/// ```
pub fn remedy(seen: Seen, film: FilmClass, heated: bool) -> Option<Remedy> {
    if !seen.shows_on(film) {
        return None;
    }
    let (cause, can_be_saved, steps) = told(seen, film, heated);
    Some(Remedy {
        seen,
        name: seen.name(),
        cause,
        can_be_saved,
        steps,
    })
}

/// Where it comes from, whether it can be saved, what to do.
type Told = (&'static str, bool, Vec<Step>);

fn told(seen: Seen, film: FilmClass, heated: bool) -> Told {
    let may = may(film, heated);
    let reflective = film.figures().layered_reflective;
    match seen {
        Seen::LightWrinkle => wrinkle(film, &may, reflective),
        Seen::Pinch => pinch(film, heated, &may),
        Seen::Bubble => bubble(film, heated, &may),
        Seen::Dirt => dirt(film, &may),
        Seen::LiftingEdge => lifting_edge(&may, film),
        Seen::Tear => tear(film),
        Seen::KnifeCut => (
            "The blade went deeper than the film, or past the line.",
            true,
            vec![
                plain(
                    "Look whether it went into the paint: with a lamp from the side, and a finger nail.",
                ),
                plain(
                    "Into the paint: tell the owner and put it in the record before anything covers it; bare metal is touched up and cured before film.",
                ),
                if film == FilmClass::ConspicuityStrip {
                    plain("Through the film only: lay a new strip from the next whole module.")
                } else {
                    plain(
                        "Through the film only: press both edges down; where they do not meet, lay a patch of the same film and direction over it, as wide as the film's lap.",
                    )
                },
            ],
        ),
        Seen::Whitening if may.lift => (
            "Stretched too far, or too cold.",
            true,
            vec![
                plain("Lift it, low and flat."),
                hot("Warm it: its memory brings most of it back."),
                blade("Lay it again with less pull; where it does not reach, a relief cut."),
            ],
        ),
        Seen::Whitening => (
            "Stretched too far, or too cold.",
            true,
            vec![
                plain("Do not lift it: this adhesive has taken hold."),
                hot("Warm it where it lies: its memory brings some of it back."),
                plain(NEW_PIECE),
            ],
        ),
        Seen::DarkReflective if may.lift => (
            "Stretched too far: the reflective layer has opened.",
            false,
            vec![
                plain("Lift it, low and flat."),
                hot("Warm it gently; it may not come back."),
                plain("Look at it with a lamp from beside your eye before you go on."),
                plain("Where it stays dark and the marking must reflect, a new piece."),
            ],
        ),
        Seen::DarkReflective => (
            "Stretched too far: the reflective layer has opened.",
            false,
            vec![
                plain("Look at it with a lamp from beside your eye."),
                plain(
                    "It does not come back where it lies: where the marking must reflect, a new piece.",
                ),
            ],
        ),
        Seen::LiftLine if may.lift => (
            "It was lifted too fast, or stopped while lifting.",
            true,
            vec![
                hot("Warm it: such lines often heal."),
                plain("Next time lift slowly and without stopping, low and flat."),
            ],
        ),
        Seen::LiftLine => (
            "It was lifted too fast, or stopped while lifting.",
            true,
            vec![hot(
                "Warm it where it lies: such lines often heal. It is not lifted any more.",
            )],
        ),
        Seen::PullsOut => pulls_out(film, heated, &may),
        Seen::RegisterDrifts => register_drifts(film, heated, &may),
        Seen::TapeLetGo if may.lift && !heated => (
            "The tape was not rubbed down, or it was cold.",
            true,
            vec![
                plain("Lift the film before it is pressed; liner back on."),
                plain("New tape, rubbed down harder."),
                plain("Read both ends again before you go on."),
            ],
        ),
        Seen::TapeLetGo => (
            "The tape was not rubbed down, or it was cold.",
            false,
            vec![
                plain("Where the adhesive has touched, do not pull: what lies is what you have."),
                plain(
                    "Two people: hold the free part off, liner back on it, read both ends again.",
                ),
                plain("If it lies crooked by more than the tolerance, a new piece."),
            ],
        ),
    }
}

fn wrinkle(film: FilmClass, may: &May, reflective: bool) -> Told {
    if reflective && film != FilmClass::RemovableReflective {
        return (
            "The layers have parted where it was folded.",
            false,
            vec![
                plain("It does not heal in this film."),
                blade(
                    "Lay the piece again, or cut the wrinkle out and patch it with a lap where the customer agrees.",
                ),
            ],
        );
    }
    if !may.form {
        // A thick kit is not pulled: a wrinkle in it was pressed in.
        return (
            "It was let down with slack in it.",
            may.lift,
            if may.lift {
                vec![
                    plain("Lift it as far as the wrinkle, low and flat, and do not pull."),
                    plain("Lay it again from the side that holds."),
                ]
            } else {
                vec![
                    plain(
                        "It is not moved after heat: press it as flat as it goes, and tell the customer.",
                    ),
                    plain(NEW_PIECE),
                ]
            },
        );
    }
    let cause = "The film was let down with slack in it.";
    if may.lift {
        (
            cause,
            true,
            vec![
                plain("Lift it as far as the wrinkle, low and flat."),
                hot("Warm it: light wrinkles relax."),
                plain("Lay it again from the side that holds."),
            ],
        )
    } else {
        (
            cause,
            true,
            vec![
                plain("Do not lift it: this adhesive has taken hold."),
                hot(
                    "Warm it where it lies: a light wrinkle relaxes; press it from its middle outwards.",
                ),
                blade("What stays: prick its end and press the air out, or a new piece."),
            ],
        )
    }
}

fn pinch(film: FilmClass, heated: bool, may: &May) -> Told {
    match film {
        FilmClass::ConspicuityStrip => (
            "Adhesive has met adhesive.",
            false,
            vec![plain(
                "This strip is never warmed, and pulled apart its cells break: a new strip.",
            )],
        ),
        FilmClass::ThickKit if heated => (
            "Adhesive has met adhesive, and it has set.",
            false,
            vec![plain("This film is not moved after heat: a new piece.")],
        ),
        FilmClass::ThickKit => (
            "Adhesive has met adhesive.",
            true,
            vec![
                plain("Lift the film beyond the pinch, low and flat."),
                plain("Part it slowly and cold, without pulling the film long."),
                plain(NEW_PIECE),
            ],
        ),
        _ if may.lift => (
            "Adhesive has met adhesive.",
            true,
            vec![
                plain("Lift the film beyond the pinch, low and flat."),
                hot("Warm it and part it slowly, never pull it sharply."),
                plain("Lay it again with less slack."),
            ],
        ),
        _ if heated && film.figures().adhesive == Adhesive::HeatSet => (
            "Adhesive has met adhesive, and heat has set it.",
            false,
            vec![blade(
                "Set film does not part: cut it out and patch it with a lap, or a new panel.",
            )],
        ),
        _ => (
            "Adhesive has met adhesive.",
            true,
            vec![
                plain(
                    "Stop before it is pressed: what is pressed of this adhesive does not come back.",
                ),
                hot("Warm the pinch itself and part it slowly, never pull it sharply."),
                plain(NEW_PIECE),
            ],
        ),
    }
}

fn bubble(film: FilmClass, heated: bool, may: &May) -> Told {
    const PRICK: &str = "Prick it at one side and push from the far side towards the hole; or at the middle, pushing in from the whole rim.";
    const HOLLOW: &str = "Where the panel is hollow it is no bubble: warm it and form it again.";
    if may.channels {
        return (
            "Air was shut in.",
            true,
            vec![
                plain(
                    "Press it out by hand towards the nearest edge: the channels let it through.",
                ),
                blade("If it stays, prick it at one side."),
                hot(HOLLOW),
            ],
        );
    }
    let cause = match film.figures().adhesive {
        Adhesive::Solid => "Air was shut in, and this adhesive has no channels.",
        Adhesive::HeatSet => "Air was shut in, and this film has no channels to count on.",
        Adhesive::AirChannels => "Air was shut in; the channels have closed with the heat.",
    };
    let steps = match film {
        FilmClass::ConspicuityStrip => vec![blade(
            "Prick it at one side and push from the far side towards the hole. This strip is never warmed.",
        )],
        FilmClass::ThickKit => vec![
            blade(PRICK),
            plain("In texture: the roller once more, firmly. It is never lifted after heat."),
        ],
        FilmClass::HeatSetPrint if !heated => vec![
            plain(
                "Lift it as far as the bubble, low and flat, and press again towards an open edge.",
            ),
            blade("If it is small, prick it at one side."),
            hot(HOLLOW),
        ],
        _ => vec![blade(PRICK), hot(HOLLOW)],
    };
    (cause, true, steps)
}

fn dirt(film: FilmClass, may: &May) -> Told {
    let cause = "Something lay on the surface or flew under the film.";
    if may.lift {
        return (
            cause,
            true,
            vec![
                plain("Lift the film beyond it, low and flat."),
                plain(
                    "Take it off the adhesive with the corner of a strip of tape, never with a finger.",
                ),
                wipe(
                    "Wipe the surface with alcohol and let it dry before the film comes down again.",
                ),
                plain("Press again towards an open edge."),
            ],
        );
    }
    match film {
        FilmClass::ConspicuityStrip => (
            cause,
            true,
            vec![
                plain("A grain that does not stand up stays: press round it."),
                plain("What stands up breaks the cells: a new strip from the next whole module."),
            ],
        ),
        _ => (
            cause,
            true,
            vec![
                plain("A grain that does not show from 3 m stays: press round it."),
                blade("Prick beside it, push the air out and press it flat."),
                blade("What shows: cut it out and lay a patch or a new letter, or a new piece."),
            ],
        ),
    }
}

fn lifting_edge(may: &May, film: FilmClass) -> Told {
    let mut steps = vec![plain(
        "Look at the adhesive: with dirt or wax on it, it does not hold again.",
    )];
    if may.warm {
        steps.push(hot(
            "Clean and dry: warm the edge and press it down from the film outwards, thumb or felt.",
        ));
        if film == FilmClass::ThickKit {
            steps.push(plain(
                "Pressed, not moved: a thick kit is never lifted after heat.",
            ));
        }
    } else {
        steps.push(plain(
            "Clean and dry: press it down hard with the roller. This strip is never warmed.",
        ));
    }
    steps.push(blade(
        "Dirty: cut it back to where it holds, with a fresh blade.",
    ));
    steps.push(plain(
        "Then seal that edge, after it has cooled: never hot air on wet sealer.",
    ));
    (
        "It was not pressed or not warmed to its end, or the surface was not clean there.",
        true,
        steps,
    )
}

fn tear(film: FilmClass) -> Told {
    let cause = "Pulled sharply, too cold, or from a nick at its edge.";
    match film {
        FilmClass::ConspicuityStrip => (
            cause,
            false,
            vec![plain(
                "Take the strip back to the last whole module and lay a new one from there.",
            )],
        ),
        FilmClass::CutLettering => (
            cause,
            false,
            vec![
                plain("Stop pulling, and fold the transfer tape back flat."),
                plain("Lay a new letter: a seam through one is always seen."),
            ],
        ),
        _ => (
            cause,
            true,
            vec![
                plain("Stop pulling. Lay the torn edges together without stretching them."),
                plain("Press from the end of the tear outwards, so that it runs no farther."),
                plain(
                    "Lay a patch of the same film, lot and direction over it, as wide as the film's lap; tell the customer.",
                ),
            ],
        ),
    }
}

fn pulls_out(film: FilmClass, heated: bool, may: &May) -> Told {
    if !may.form {
        return (
            "This film does not form, and it was bridged.",
            false,
            vec![blade(
                "Cut it along the rim and lay the recess by itself, or leave it free.",
            )],
        );
    }
    let cause = "It was bridged, or stretched into the recess cold.";
    if may.lift {
        return (
            cause,
            true,
            vec![
                plain("Lift it back to the rim, low and flat."),
                hot("Warm a band about 50 mm (2 in) back from the rim."),
                plain("Form the deepest line first, the flat last, with a way out for the air."),
                hot("Heat it to the film's temperature afterwards, and read it."),
                blade("If it pulls out again: a relief cut, or an inlay."),
            ],
        );
    }
    let set = film.figures().adhesive == Adhesive::HeatSet && heated;
    (
        cause,
        true,
        vec![
            if set {
                plain("Set film is not lifted back.")
            } else {
                plain("Do not lift it back: this adhesive has taken hold.")
            },
            blade("Prick the hollow to let its air out."),
            hot(
                "Warm the film over the hollow until it is soft, and press it in, deepest line first.",
            ),
            blade("If it pulls out again: cut a relief, or cut it along the rim and lay an inlay."),
        ],
    )
}

fn register_drifts(film: FilmClass, heated: bool, may: &May) -> Told {
    let cause = "The panel was pulled along while it was laid.";
    if may.lift && !heated {
        return (
            cause,
            true,
            vec![
                plain("Stop. Lift the panel back to where it still matched."),
                plain("Check register along the whole lap before you press again."),
                plain("Keep the lap's width, and let the error run to the edge that is trimmed."),
            ],
        );
    }
    (
        cause,
        false,
        vec![
            if film.figures().adhesive == Adhesive::Solid {
                plain("Stop. A solid adhesive is not lifted back for register: hold the rest off.")
            } else {
                plain("Stop. Film that was heated is not moved.")
            },
            plain(
                "Split the difference over what is left, and tell the customer before you go on.",
            ),
        ],
    )
}
