//! A film as a shop stocks it: its class, with what its own data sheet says in place of the class's figures.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::film::classes::{FilmClass, FilmFigures, HOTTEST_CELSIUS, Span};
use crate::film::data_sheet::{DataSheet, called};
use crate::film::ink::Ink;
use crate::film::laminate::Laminate;
use crate::ground::tape::{Unit, print};
use crate::ground::told::Told;

/// A film that a shop stocks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StockedFilm {
    /// What the shop calls it.
    pub name: String,
    /// Its class.
    pub class: FilmClass,
    /// Its colour as `#rrggbb`.
    pub colour: String,
    /// What its data sheet says.
    #[serde(default)]
    pub sheet: DataSheet,
    /// Of a film as a piece was given it, the name of the laminate of its sheet that goes over it. None on the shelf, and where the piece has none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub laminate: Option<String>,
}

/// Where a figure comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Origin {
    /// The film's own data sheet, as the shop typed it.
    DataSheet,
    /// What is usual for its class.
    Class,
}

/// A figure of a film as it is told.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ToldFigure {
    /// The field of the data sheet.
    pub key: &'static str,
    /// What it is.
    pub what: &'static str,
    /// The figure with its unit.
    pub text: String,
    /// Where it comes from.
    pub from: Origin,
}

impl StockedFilm {
    /// Its figures: the data sheet's, and the class's where the sheet is silent.
    ///
    /// ```
    /// use windrift_core::film::{classes::{FilmClass, Span}, data_sheet::DataSheet, stocked::StockedFilm};
    /// let sheet = DataSheet { lap_mm: Some(Span { from: 15.0, to: 15.0 }), ..DataSheet::default() };
    /// let film = StockedFilm { name: "harbour white".into(), class: FilmClass::CastPrint, colour: "#ffffff".into(), sheet, laminate: None };
    /// let figures = film.figures();
    /// assert_eq!((figures.lap_mm.unwrap().to, figures.stretch), (15.0, 0.10));
    /// ```
    pub fn figures(&self) -> FilmFigures {
        let class = self.class.figures();
        let s = self.worked();
        FilmFigures {
            thickness_mm: s.thickness_mm.unwrap_or(class.thickness_mm),
            fit_from_celsius: s.fit.map_or(class.fit_from_celsius, |f| f.from),
            fit_to_celsius: s.fit.map_or(class.fit_to_celsius, |f| f.to),
            form: s.form.or(class.form),
            post_heat: s.post_heat.or(class.post_heat),
            ceiling_celsius: (s.ceiling_celsius.unwrap_or(class.ceiling_celsius))
                .min(HOTTEST_CELSIUS),
            stretch: s.stretch.unwrap_or(class.stretch),
            two_way_stretch: s.two_way_stretch.unwrap_or(class.two_way_stretch),
            lap_mm: s.lap_mm.or(class.lap_mm),
            sets_hours: s.sets_hours.unwrap_or(class.sets_hours),
            first_wash_days: s.first_wash_days.unwrap_or(class.first_wash_days),
            directional: s.directional.unwrap_or(class.directional),
            removable: s.removable.or(class.removable),
            wet: s.wet.unwrap_or(class.wet),
            upright_years: s.upright_years.or(class.upright_years),
            aftercare_coat: s.aftercare_coat.unwrap_or(class.aftercare_coat),
            ..class
        }
    }

    /// The laminate that goes over it, of those of its sheet.
    pub fn laminate(&self) -> Option<&Laminate> {
        let name = self.laminate.as_deref()?;
        self.sheet.laminates.iter().find(|l| l.name == name)
    }

    /// Its data sheet as it is worked: with its laminate over it.
    pub fn worked(&self) -> DataSheet {
        match self.laminate() {
            Some(laminate) => self.sheet.under(laminate),
            None => self.sheet.clone(),
        }
    }

    /// What it is called with its laminate.
    pub fn called(&self) -> String {
        match self.laminate() {
            Some(laminate) => format!("{}, laminate {}", self.name, laminate.name),
            None => self.name.clone(),
        }
    }

    /// Film and liner as they are wound, mm; nothing where no liner was typed.
    pub fn wound_mm(&self) -> Option<f64> {
        Some(self.figures().thickness_mm + self.sheet.liner_mm?)
    }

    /// Whether it can be a film.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        let letters = self.name.trim().chars().count();
        if !(1..=80).contains(&letters) {
            return Err(Told::new("film", "Give the film a name of 1 to 80 letters.").at("/name"));
        }
        if !crate::ground::colour::is_colour(&self.colour) {
            return Err(Told::new(
                "film",
                "The colour must be written as # and six figures, such as #14524d.",
            )
            .at("/colour"));
        }
        self.sheet.check()?;
        if self.laminate.is_some() && self.laminate().is_none() {
            let sentence = "Its laminate is none of those of its sheet. Choose another.";
            return Err(Told::new("film", sentence).at("/laminate"));
        }
        Ok(())
    }

    /// Every figure, with where it comes from.
    pub fn told(&self, unit: Unit) -> Vec<ToldFigure> {
        let (f, s) = (self.figures(), self.worked());
        let mut told = Vec::new();
        let mut tell = |key: &'static str, text: String, own: bool| {
            told.push(ToldFigure {
                key,
                what: called(key),
                text,
                from: if own {
                    Origin::DataSheet
                } else {
                    Origin::Class
                },
            });
        };
        let none = || "none".to_owned();
        // What no practice was at hand for is told where it stands.
        let ours = |text: String, own: bool| if own { text } else { format!("{text} (ours)") };
        let fit = Span {
            from: f.fit_from_celsius,
            to: f.fit_to_celsius,
        };
        let ceiling = Span {
            from: f.ceiling_celsius,
            to: f.ceiling_celsius,
        };
        tell(
            "thickness_mm",
            format!(
                "{:.3} mm ({:.1} mil)",
                f.thickness_mm,
                f.thickness_mm / 0.0254
            ),
            s.thickness_mm.is_some(),
        );
        if let Some(liner) = s.liner_mm {
            tell("liner_mm", format!("{liner:.3} mm"), true);
        }
        tell("fit", degrees(fit), s.fit.is_some());
        tell("form", f.form.map_or_else(none, degrees), s.form.is_some());
        tell(
            "post_heat",
            f.post_heat.map_or_else(none, degrees),
            s.post_heat.is_some(),
        );
        tell(
            "ceiling_celsius",
            ours(degrees(ceiling), s.ceiling_celsius.is_some()),
            s.ceiling_celsius.is_some(),
        );
        tell("stretch", share(f.stretch), s.stretch.is_some());
        tell(
            "two_way_stretch",
            ours(share(f.two_way_stretch), s.two_way_stretch.is_some()),
            s.two_way_stretch.is_some(),
        );
        if let Some(most) = s.stretch_most {
            tell("stretch_most", share(most), true);
        }
        let lap = |l: Span| {
            let (from, to) = (print(l.from, unit).text, print(l.to, unit).text);
            if from == to {
                to
            } else {
                format!("{from} to {to}")
            }
        };
        tell(
            "lap_mm",
            f.lap_mm.map_or_else(|| "no lap".into(), lap),
            s.lap_mm.is_some(),
        );
        tell(
            "sets_hours",
            format!("{:.0} h", f.sets_hours),
            s.sets_hours.is_some(),
        );
        tell(
            "first_wash_days",
            format!("{:.0} days", f.first_wash_days),
            s.first_wash_days.is_some(),
        );
        tell("directional", yes(f.directional), s.directional.is_some());
        tell(
            "removable",
            f.removable.map_or_else(|| "not said".into(), yes),
            s.removable.is_some(),
        );
        tell("wet", yes(f.wet), s.wet.is_some());
        let years = |y: f64| format!("{y:.0} years");
        tell(
            "upright_years",
            f.upright_years.map_or_else(|| "not said".into(), years),
            s.upright_years.is_some(),
        );
        if let Some(y) = s.lying_years {
            tell("lying_years", years(y), true);
        }
        if let Some(grey) = s.grey {
            tell("grey", yes(grey), true);
        }
        if let Some(weeks) = s.polish_after_weeks {
            let text = if weeks > 0.0 {
                format!("no sooner than {weeks:.0} weeks after fitting")
            } else {
                "never: its sheet forbids it".into()
            };
            tell("polish_after_weeks", text, true);
        }
        if let Some(coat) = s.aftercare_coat {
            tell("aftercare_coat", yes(coat), true);
        }
        for (key, ink) in [
            ("solvent_hours", Ink::Solvent),
            ("eco_solvent_hours", Ink::EcoSolvent),
            ("latex_hours", Ink::Latex),
            ("uv_hours", Ink::Uv),
        ] {
            if let Some(hours) = s.outgas_hours(ink).filter(|_| f.printable) {
                tell(key, format!("{hours:.0} h"), true);
            }
        }
        told
    }
}

fn yes(v: bool) -> String {
    if v { "yes" } else { "no" }.into()
}

fn share(v: f64) -> String {
    if v > 0.0 {
        format!("{:.1} %", v * 100.0).replace(".0 %", " %")
    } else {
        "not stretched at all".into()
    }
}

/// Temperatures in both scales.
pub(crate) fn degrees(span: Span) -> String {
    let warm = |c: f64| c * 1.8 + 32.0;
    if (span.from - span.to).abs() < 0.05 {
        format!("{:.0} °C ({:.0} °F)", span.to, warm(span.to))
    } else {
        format!(
            "{:.0} to {:.0} °C ({:.0} to {:.0} °F)",
            span.from,
            span.to,
            warm(span.from),
            warm(span.to)
        )
    }
}

/// A film as a piece was given it: a copy, so that what was planned with it stays what it was.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChosenFilm {
    /// Its key on the shelf.
    pub id: Uuid,
    /// The film.
    pub film: StockedFilm,
}
