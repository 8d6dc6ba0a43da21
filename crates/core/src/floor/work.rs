//! What the stages on the floor ask for, as steps in the form of [`WorkStep`]: Strip, Prep, Lay down, Heat & seal and the final look.
//!
//! Hours of Strip are those that its own timed patches tell. All others are Windrift's own, no source: wide ranges for a practised pair of hands, told so.

use crate::film::classes::Span;
use crate::floor::prep::clean::CleanStep;
use crate::floor::wet::Wet;
use crate::plan::steps::{WorkStage, WorkStep};

/// A vehicle and film are worked at between these, °C: 65 to 75 °F (common practice, no source).
const AT_EASE: Span = Span {
    from: (65.0 - 32.0) / 1.8,
    to: (75.0 - 32.0) / 1.8,
};
/// Hung, read and cut, hours a piece (ours).
const HUNG: Span = Span { from: 0.2, to: 0.6 };
/// Pressed, seconds a square metre (ours).
const PRESSED: Span = Span {
    from: 180.0,
    to: 600.0,
};
/// Walked with heat, seconds a metre (ours): half a second to two and a half for an inch.
const HEATED: Span = Span {
    from: 20.0,
    to: 100.0,
};
/// Taped or sealed, seconds a metre (ours).
const SEALED: Span = Span {
    from: 20.0,
    to: 60.0,
};
/// Looked at once more, minutes for each thing that is looked at (ours).
const LOOKED: Span = Span { from: 1.0, to: 4.0 };
/// Put back on, minutes for each thing that came off (ours).
const BACK_ON: Span = Span {
    from: 5.0,
    to: 20.0,
};
/// No step that hands do is shorter than this, hours (ours).
const LEAST: f64 = 1.0 / 30.0;

fn hours(amount: f64, seconds: Span) -> Span {
    let of = |s: f64| (amount * s / 3600.0).max(LEAST);
    Span {
        from: of(seconds.from),
        to: of(seconds.to),
    }
}

/// A chain of steps: each after the one before it.
#[derive(Debug, Default)]
pub struct Chain {
    steps: Vec<WorkStep>,
    after: Option<String>,
}

impl Chain {
    /// Begins after a step of another chain.
    pub fn after(key: Option<&str>) -> Chain {
        Chain {
            steps: Vec::new(),
            after: key.map(str::to_owned),
        }
    }

    fn add(&mut self, stage: WorkStage, key: String, what: String, hands: u32, hours: Span) {
        self.steps.push(WorkStep {
            after: self.after.replace(key.clone()),
            key,
            stage,
            what,
            hands,
            hours,
            waits: None,
            place: "hall".into(),
            window: Some(AT_EASE),
        });
    }

    fn wait(&mut self, stage: WorkStage, key: String, what: String, minutes: f64, waits: &str) {
        let h = minutes / 60.0;
        self.add(stage, key, what, 0, Span { from: h, to: h });
        if let Some(last) = self.steps.last_mut() {
            last.waits = Some(waits.to_owned());
        }
    }

    /// Old film comes off: `hours` of one pair of hands, one case of ten and nine of ten, as Strip tells them.
    ///
    /// ```
    /// # use windrift_core::floor::work::Chain;
    /// let mut chain = Chain::default();
    /// chain.strip("old-1", "cut lettering", [0.5, 1.25]);
    /// assert_eq!(chain.steps()[0].key, "strip:old-1");
    /// assert_eq!((chain.steps()[0].hours.from, chain.steps()[0].hours.to), (0.5, 1.25));
    /// ```
    pub fn strip(&mut self, key: &str, what: &str, hours: [f64; 2]) {
        let [from, to] = hours.map(|h| h.max(LEAST));
        self.add(
            WorkStage::Strip,
            format!("strip:{key}"),
            format!("Old film off: {what}"),
            1,
            Span { from, to },
        );
    }

    /// A step of cleaning on a side, over `square_metres` of it.
    pub fn clean(&mut self, side: &str, step: &CleanStep, square_metres: f64) {
        let key = format!("clean:{side}:{}", step.key);
        let took = hours(square_metres, cleans(step.key));
        self.add(WorkStage::Prep, key.clone(), step.says.clone(), 1, took);
        if let Some(wet) = step.wet {
            self.wait(
                WorkStage::Prep,
                format!("{key}:dry"),
                "It flashes off: no heat within reach".into(),
                wet.minutes() as f64,
                "solvent",
            );
        }
    }

    /// Promoter on a piece, over so many metres, and the shop's minutes until it is tacky.
    pub fn promoter(&mut self, piece: &str, called: &str, metres: f64, tacky_minutes: f64) {
        let key = format!("promoter:{piece}");
        let each = Span {
            from: 10.0,
            to: 30.0,
        };
        self.add(
            WorkStage::Prep,
            key.clone(),
            format!("Promoter for {called}"),
            1,
            hours(metres, each),
        );
        self.wait(
            WorkStage::Prep,
            format!("{key}:tacky"),
            "Promoter until it is tacky".into(),
            tacky_minutes,
            "promoter",
        );
    }

    /// A piece is hung and pressed: `square_metres` of its film.
    pub fn lay(&mut self, piece: &str, called: &str, square_metres: f64) {
        let press = hours(square_metres, PRESSED);
        self.add(
            WorkStage::LayDown,
            format!("lay:{piece}"),
            format!("Hang and press {called}"),
            if square_metres > 1.5 { 2 } else { 1 },
            Span {
                from: HUNG.from + press.from,
                to: HUNG.to + press.to,
            },
        );
    }

    /// Runs of heat on a piece, so many metres in all.
    pub fn heat(&mut self, piece: &str, called: &str, metres: f64) {
        self.add(
            WorkStage::HeatSeal,
            format!("heat:{piece}"),
            format!("Heat what must reach its temperature on {called}"),
            1,
            hours(metres, HEATED),
        );
    }

    /// Seal tape and sealer on a piece, so many metres in all, and the sealer's wait.
    pub fn seal(&mut self, piece: &str, called: &str, metres: f64, wet: bool) {
        let key = format!("seal:{piece}");
        self.add(
            WorkStage::HeatSeal,
            key.clone(),
            format!("Seal the edges of {called}"),
            1,
            hours(metres, SEALED),
        );
        if wet {
            self.wait(
                WorkStage::HeatSeal,
                format!("{key}:dry"),
                "Sealer until it is dry to the touch".into(),
                Wet::Sealer.minutes() as f64,
                "sealer",
            );
        }
    }

    /// So many things that came off go back on.
    pub fn back_on(&mut self, things: usize) {
        self.add(
            WorkStage::HandOver,
            "back-on".into(),
            "What came off goes back on".into(),
            1,
            hours(things as f64 * 60.0, BACK_ON),
        );
    }

    /// The final look at so many things.
    pub fn final_look(&mut self, looks: usize) {
        self.add(
            WorkStage::HandOver,
            "final-look".into(),
            "The final look".into(),
            1,
            hours(looks.max(1) as f64 * 60.0, LOOKED),
        );
    }

    /// The last key of the chain: what comes next comes after it.
    pub fn last(&self) -> Option<&str> {
        self.after.as_deref()
    }

    /// Its steps so far.
    pub fn steps(&self) -> &[WorkStep] {
        &self.steps
    }
}

/// How long a step of cleaning takes, seconds a square metre (ours).
fn cleans(key: &str) -> Span {
    let (from, to) = match key {
        "skin" => (20.0, 60.0),
        "wash" => (60.0, 180.0),
        "wood" => (1800.0, 7200.0),
        "polish" => (180.0, 600.0),
        "cleaner" => (60.0, 150.0),
        _ => (25.0, 90.0),
    };
    Span { from, to }
}
