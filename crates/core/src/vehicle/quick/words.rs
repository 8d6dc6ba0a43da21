//! The words of quick words: kinds by the names that they go by in the shop, and what may stand behind them.

use crate::vehicle::feature::kind::{FeatureKind, LampColour, LampFunction, OpenSide};

/// What a kind is called beside its own names.
const ALSO: [(&str, FeatureKind); 25] = [
    ("rivets", FeatureKind::Rivets),
    ("rivet", FeatureKind::Rivets),
    ("screws", FeatureKind::Fastener),
    ("screw", FeatureKind::Fastener),
    ("bolts", FeatureKind::Fastener),
    ("bolt", FeatureKind::Fastener),
    ("panel seam", FeatureKind::PanelSeam),
    ("rib", FeatureKind::Crease),
    ("ribs", FeatureKind::Crease),
    ("gap", FeatureKind::DoorGap),
    ("door", FeatureKind::LockerDoor),
    ("hatch", FeatureKind::LockerDoor),
    ("lock rod", FeatureKind::Latch),
    ("light", FeatureKind::Lamp),
    ("window", FeatureKind::Glass),
    ("rub rail", FeatureKind::Moulding),
    ("label", FeatureKind::SafetyLabel),
    ("exit", FeatureKind::Exit),
    ("camera", FeatureKind::Sensor),
    ("ghost", FeatureKind::OldFilm),
    ("old lettering", FeatureKind::OldFilm),
    ("arch", FeatureKind::WheelArch),
    ("hollow", FeatureKind::ConcaveZone),
    ("arm", FeatureKind::Bracket),
    ("awning arm", FeatureKind::Bracket),
];

/// Words that may stand behind a kind; the longer ones of those that begin alike come first.
const BEHIND: [&str; 42] = [
    "back",
    "down",
    "every",
    "rows",
    "wide",
    "high",
    "across",
    "head",
    "to its middle",
    "to",
    "along",
    "outline",
    "deep",
    "walls",
    "rises",
    "one way",
    "two ways",
    "open top",
    "open foot",
    "open front",
    "open rear",
    "closed",
    "amber",
    "red",
    "white",
    "required",
    "extra",
    "stop",
    "tail",
    "turn",
    "marker",
    "reversing",
    "plate",
    "reflector",
    "no driver",
    "driver",
    "keep off",
    "stays",
    "goes back",
    "comes off",
    "for good",
    "called",
];

/// Every name with its kind, the longest first, so that "door gap" is not a door.
fn names() -> Vec<(&'static str, FeatureKind)> {
    let mut all: Vec<(&'static str, FeatureKind)> = FeatureKind::ALL
        .iter()
        .flat_map(|&k| {
            let (one, several) = k.names();
            [(one, k), (several, k)]
        })
        .chain(ALSO)
        .collect();
    all.sort_by_key(|(name, _)| std::cmp::Reverse(name.len()));
    all
}

/// The kind that a line begins with, and how many bytes name it.
pub(super) fn kind_at(line: &str) -> Option<(FeatureKind, usize)> {
    let lower = line.to_lowercase();
    names().into_iter().find_map(|(name, kind)| {
        let rest = lower.strip_prefix(name)?;
        (rest.is_empty() || rest.starts_with([' ', ','])).then_some((kind, name.len()))
    })
}

/// What stays called as it was said, though it is measured as another kind: a rib is a crease to film.
pub(super) fn stays_called(name: &str) -> Option<String> {
    ["rib", "ribs"]
        .contains(&name.to_lowercase().as_str())
        .then(|| "rib".to_owned())
}

/// What the last word of a line can be completed to.
///
/// ```
/// # use windrift_core::vehicle::quick::completions;
/// assert!(completions("riv").contains(&"rivets"));
/// assert_eq!(completions("lamp 6 back 82 do"), ["down"]);
/// assert!(completions("lamp 6 back 82 down ").is_empty());
/// ```
pub fn completions(line: &str) -> Vec<&'static str> {
    let begun = line.trim_start();
    let behind = kind_at(begun).filter(|(_, n)| *n < begun.len());
    let (all, last): (Vec<&'static str>, String) = match behind {
        Some(_) => {
            let last = begun.rsplit([' ', ',']).next().unwrap_or_default();
            (
                BEHIND.iter().copied().chain(["note", "from"]).collect(),
                last.to_lowercase(),
            )
        }
        None => {
            let mut all: Vec<&'static str> = names().into_iter().map(|(name, _)| name).collect();
            all.sort_unstable();
            (all, begun.to_lowercase())
        }
    };
    if last.is_empty() {
        return Vec::new();
    }
    all.into_iter()
        .filter(|w| w.starts_with(&last) && *w != last)
        .take(6)
        .collect()
}

/// What lamps are for.
pub(super) const FUNCTIONS: [(&str, LampFunction); 7] = [
    ("stop", LampFunction::Stop),
    ("tail", LampFunction::Tail),
    ("turn", LampFunction::Turn),
    ("marker", LampFunction::Marker),
    ("reversing", LampFunction::Reverse),
    ("plate", LampFunction::Plate),
    ("reflector", LampFunction::Reflector),
];

pub(super) const COLOURS: [(&str, LampColour); 3] = [
    ("amber", LampColour::Amber),
    ("red", LampColour::Red),
    ("white", LampColour::White),
];

pub(super) const OPEN: [(&str, OpenSide); 5] = [
    ("closed", OpenSide::Enclosed),
    ("open top", OpenSide::Top),
    ("open foot", OpenSide::Foot),
    ("open front", OpenSide::Front),
    ("open rear", OpenSide::Rear),
];
