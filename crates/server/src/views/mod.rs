//! What the web application is given: plans as drawings, readings and words.

mod crew;
mod drawing;
mod film_stage;
mod floor_stages;
mod job;
mod kept_layouts;
mod marking;
mod shelf;
mod side;
mod tapes_give;

pub use crew::CrewView;
pub use drawing::{AreaDrawing, ColumnDrawing, LineDrawing, PathData, SCREEN_MM, SideDrawing};
pub use film_stage::{
    ByWhenView, Coarse, CutAlready, FilmedPiece, FilmsView, FormingView, InkWord, JobFilm,
    LaidPiece, LaidRoll, Needed, NestView, OffcutView, OtherFilm, PanelsView, RollToOrder,
    StepView,
};
pub use floor_stages::{
    AirView, Asks, BayView, CellView, DoneByView, Dries, GhostView, HarmView, HeatRunView,
    HeatView, NextView, OldFilmView, OldView, PaceView, PatchView, PieceHeat, PieceRuns, PlaceView,
    PrepView, RateView, ReadView, RunTick, RunningPatch, SealRunView, SensorView, SpotPace,
    StepTick, SunView, WarmView, WeatherView, WetView, Word, words,
};
pub use job::{FilmDrawing, JobPage, JobView, SideSummary, UnreadableJob, job_view};
pub use marking::{
    Audits, CorrectedView, MarkingFound, MarkingInput, MarkingParts, MarkingView, PartName,
};
pub use shelf::{FilmView, OnItView, RollView, ShelfView, SuppliesView};
pub use side::{
    Evaluation, FailedPiece, FeatureView, LockState, PieceView, SideView, UnderlayView, evaluation,
    lock_state, parts_of, side_view, underlay_area,
};
pub use tapes_give::TapeGives;
