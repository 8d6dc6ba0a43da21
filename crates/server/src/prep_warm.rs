//! When a panel is warm and dry, in words and as a way through the next hours.

use time::OffsetDateTime;
use windrift_core::film::classes::Span;
use windrift_core::floor::prep::dew::DEW_MARGIN_CELSIUS;
use windrift_core::floor::prep::door::{AirAhead, ahead};
use windrift_core::floor::prep::gate::{ReadBy, SurfaceRead};
use windrift_core::floor::prep::warm::{AirAt, PanelAt, Warming, warming};
use windrift_core::ground::degrees::told;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::told::first_capital;
use windrift_core::ground::zone::Zone;
use windrift_core::vehicle::surface::Material;

use crate::bay_view::clock;
use crate::bays::Bay;
use crate::views::WarmView;

/// As many readings of a panel fit as well as some thousand.
const ENOUGH: usize = 120;
/// Minutes between points of the way.
const POINT_MINUTES: f64 = 15.0;

/// What it is worked out from.
pub(crate) struct WarmAsk<'a> {
    /// Readings of the side that are believed.
    pub surface: &'a [SurfaceRead],
    /// Its bay, with its air and what probes read.
    pub bay: &'a Bay,
    /// Since when the vehicle stands in it.
    pub came_in: Option<OffsetDateTime>,
    pub material: Material,
    /// Temperatures at which its film is fitted.
    pub window: Span,
    pub now: OffsetDateTime,
    pub seed: u64,
    pub zone: Zone,
    pub unit: Unit,
}

/// When the panel is warm; nothing where nobody read it or the air.
pub(crate) fn warm_view(ask: &WarmAsk<'_>) -> Option<WarmView> {
    let read = ask.surface.iter().map(|r| PanelAt {
        at: r.at,
        celsius: r.celsius,
        error: r.by.error(),
    });
    let probed = ask.bay.probe.iter().map(|(at, celsius)| PanelAt {
        at: *at,
        celsius: *celsius,
        error: ReadBy::Probe.error(),
    });
    // What was read before it came in says nothing of the hall.
    let mut panel: Vec<PanelAt> = (read.chain(probed))
        .filter(|p| ask.came_in.is_none_or(|came| p.at >= came))
        .collect();
    panel.sort_by_key(|p| p.at);
    let every = panel.len().div_ceil(ENOUGH).max(1);
    let panel: Vec<PanelAt> = panel.into_iter().step_by(every).collect();
    let later = ahead(&ask.bay.air, ask.now)?;
    let air: Vec<AirAt> = (ask.bay.air.iter())
        .map(|a| AirAt {
            at: a.at,
            celsius: a.celsius,
        })
        .collect();
    let found = warming(
        &air,
        Some(&later),
        &panel,
        ask.material,
        ask.window,
        ask.now,
        ask.seed,
    )?;
    let dew: Option<Vec<f64>> = (0..found.path.len())
        .map(|n| later.dew(n as f64 * POINT_MINUTES))
        .collect();
    let mut says = window_words(ask, &found, &panel);
    if found.prior_only {
        says += " Prior only: the panel has not changed by enough yet to learn from.";
    }
    says += &air_words(&later, ask.unit);
    if let Some(dew) = &dew {
        says += &dew_words(&found.path, dew, later.comes_back());
    }
    Some(WarmView {
        says,
        prior_only: found.prior_only,
        window: [ask.window.from, ask.window.to],
        path: found.path,
        dew,
    })
}

/// When it comes into its window.
fn window_words(ask: &WarmAsk<'_>, found: &Warming, panel: &[PanelAt]) -> String {
    let read = panel.last().map_or(0.0, |p| p.celsius);
    let here = found.path.first().map_or(read, |p| p[1]);
    let mut says = format!("Panel about {} now, ", told(here, ask.unit));
    if found.never {
        says += &format!(
            "and the air is outside {} to {}: by waiting it does not come into the window. Warm or cool the bay.",
            told(ask.window.from, ask.unit),
            told(ask.window.to, ask.unit)
        );
    } else if (ask.window.from..=ask.window.to).contains(&here) {
        says += "in the window.";
    } else {
        let clock_of = |at: OffsetDateTime| {
            let words = ask.zone.in_words(at);
            let same = ask.zone.date(at) == ask.zone.date(ask.now);
            if same { clock(words) } else { words }
        };
        says += &match (found.earliest, found.latest) {
            (Some(from), Some(to)) => {
                format!(
                    "in the window between {} and {}.",
                    clock_of(from),
                    clock_of(to)
                )
            }
            (Some(from), None) => format!(
                "in the window not before {}, perhaps not within two days.",
                clock_of(from)
            ),
            _ => "not in the window within two days.".into(),
        };
    }
    says
}

/// What an open door did to the air. That it was a door nobody saw.
fn air_words(later: &AirAhead, unit: Unit) -> String {
    if !later.comes_back() {
        return String::new();
    }
    format!(
        " The air changed at once, as when a door is opened: nearly back at {} in about {:.0} min, {}.",
        told(later.level.celsius, unit),
        later.nearly_back_minutes(),
        match later.recovery.openings {
            0 => "a figure of ours, since nothing was learnt of this bay yet".into(),
            1 => "as it did here once before".into(),
            n => format!("as it did here {n} times before"),
        }
    )
}

/// When it is clear of the dew point, the coldest that the panel is likely to be against the water in the air at that time.
fn dew_words(path: &[[f64; 3]], dew: &[f64], comes_back: bool) -> String {
    let then = if comes_back {
        "as the air comes back"
    } else {
        "as the air is now"
    };
    let dry: Vec<bool> = (path.iter().zip(dew))
        .map(|(p, dew)| p[0] - dew >= DEW_MARGIN_CELSIUS)
        .collect();
    let minutes = |n: usize| n as f64 * POINT_MINUTES;
    let first = dry.iter().position(|d| *d);
    let lost = dry.iter().position(|d| !*d);
    match (first, lost) {
        (Some(0), None) => String::new(),
        // Warm damp air comes back to a skin that is still cold.
        (Some(0), Some(n)) => format!(
            " Clear of the dew point now, but {then} water may stand on it in about {:.0} min: wait for that before film goes on.",
            minutes(n)
        ),
        (Some(n), _) => format!(
            " Clear of the dew point, {then}, in about {:.0} min.",
            minutes(n)
        ),
        (None, _) => format!(
            " {}, water may stand on it all day: dry the air.",
            first_capital(then)
        ),
    }
}
