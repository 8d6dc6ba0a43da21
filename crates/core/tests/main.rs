//! The rules and the computation, against something outside the project wherever there is something.
#![allow(
    clippy::expect_used,
    clippy::panic,
    clippy::unwrap_used,
    dead_code,
    missing_docs
)]

mod air;
mod artwork;
mod bodies;
mod care;
mod centre_run;
mod colours;
mod common;
mod cut;
mod first;
mod forming;
mod glyphs;
mod hang;
mod heat;
mod heat_pace;
mod heat_stream;
mod landing;
mod layers;
mod lengths;
mod level;
mod marking;
mod pieces;
mod placing;
mod prep;
mod quick;
mod remedies;
mod said;
mod seams;
mod sections;
mod spots;
mod square_up;
mod strip;
mod strokes;
mod turns;
mod units;
mod verdict;
mod worked;
