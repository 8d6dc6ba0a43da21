//! Best lines of whole modules, for `tools/conspicuity_compare.py`: cases as JSON on standard input, answers with their milliseconds on
//! standard output.
#![allow(clippy::unwrap_used, clippy::print_stdout)]

use std::time::Instant;

use serde::{Deserialize, Serialize};
use windrift_core::conspicuity::line::{LineProblem, spaced};

#[derive(Deserialize)]
struct Case {
    width: f64,
    module: f64,
    blocked: Vec<(f64, f64)>,
    limit: f64,
    film: f64,
}

#[derive(Serialize)]
struct Answer {
    ms: f64,
    modules: usize,
    pieces: usize,
    largest: f64,
    smallest: f64,
}

fn main() {
    let cases: Vec<Case> = serde_json::from_reader(std::io::stdin()).unwrap();
    let answers: Vec<Option<Answer>> = cases
        .into_iter()
        .map(|c| {
            let problem = LineProblem {
                ends_mm: (0.0, c.width),
                blocked_mm: c.blocked,
                module_mm: c.module,
                least_film_mm: c.film,
                gap_limit_mm: Some(c.limit),
            };
            let from = Instant::now();
            let found = spaced(&problem).ok()?;
            Some(Answer {
                ms: from.elapsed().as_secs_f64() * 1000.0,
                modules: found.modules,
                pieces: found.strips.len(),
                largest: found.largest_gap_mm,
                smallest: found.smallest_gap_mm,
            })
        })
        .collect();
    println!("{}", serde_json::to_string(&answers).unwrap());
}
