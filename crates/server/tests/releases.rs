//! What every release so far wrote is read by today's one reader. The folders under `releases/` are the made-up shop as each release
//! shipped it: the shape of what it kept, lengths as they are typed.

use serde::de::DeserializeOwned;
use serde_json::Value;
use windrift_core::ground::mm::typed_in;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::{FaceMarking, Stock, VehicleMarking};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;

use windrift_store::StoreError;
use windrift_store::stored::Kind;
use windrift_testkit::project;

fn json(file: &std::path::Path) -> Value {
    serde_json::from_str(&std::fs::read_to_string(file).unwrap()).unwrap()
}

/// As a release kept it; the demo's files give lengths as they are typed.
fn kept<T: DeserializeOwned>(kind: Kind, value: &Value, unit: Unit) -> Result<T, StoreError> {
    typed_in(unit, || kind.read(value)).0
}

#[test]
fn everything_that_a_release_kept_is_read_and_planned() {
    let mut read = [0; 6];
    for release in 1..=5 {
        let folder = project().join(format!("crates/server/tests/releases/{release}"));
        let shop = json(&folder.join("shop.json"));
        let settings: WorkSettings = Kind::Settings.read(&shop["settings"]).unwrap();
        for tape in shop["tapes"].as_array().into_iter().flatten() {
            let stock = || Kind::Tape.read::<Stock>(&tape["stock"]);
            typed_in(Unit::InchSixteenth, stock).0.unwrap();
            read[0] += 1;
        }
        for file in shop["jobs"].as_array().unwrap() {
            let job = json(&folder.join(file.as_str().unwrap()));
            let unit: Unit = serde_json::from_value(job["unit"].clone()).unwrap();
            if let Some(vehicle) = job.get("marked_vehicle") {
                kept::<VehicleMarking>(Kind::MarkedVehicle, vehicle, unit).unwrap();
                read[1] += 1;
            }
            for row in job["sides"].as_array().unwrap() {
                // The first release called it the body.
                let spec = row
                    .get("side")
                    .filter(|s| s.is_object())
                    .unwrap_or(&row["body"]);
                let side: Side = kept(Kind::Side, spec, unit).unwrap();
                let features: Vec<SideFeature> = row["features"]
                    .as_array()
                    .unwrap()
                    .iter()
                    .map(|f| SideFeature {
                        id: serde_json::from_value(f["id"].clone()).unwrap(),
                        feature: kept::<Feature>(Kind::Feature, &f["spec"], unit)
                            .unwrap_or_else(|e| panic!("{release} {f}: {e}")),
                    })
                    .collect();
                let pieces: Vec<_> = row["pieces"]
                    .as_array()
                    .unwrap()
                    .iter()
                    .map(|p| {
                        (
                            serde_json::from_value(p["id"].clone()).unwrap(),
                            kept::<Piece>(Kind::Piece, &p["spec"], unit)
                                .unwrap_or_else(|e| panic!("{release} {p}: {e}")),
                        )
                    })
                    .collect();
                if let Some(marking) = row.get("marking") {
                    kept::<FaceMarking>(Kind::Marking, marking, unit).unwrap();
                    read[2] += 1;
                }
                let measured = measure(&side, &features).unwrap();
                assert!(measured.outline.bounds.area() > 0.0);
                let plan = plan_side(
                    &side,
                    &features,
                    &pieces,
                    &JobAround::default(),
                    &settings,
                    unit,
                )
                .unwrap();
                // Twins ask for the other side, which is not handed in here.
                assert!(
                    plan.failed
                        .iter()
                        .all(|(_, e)| e.to_string().contains("mirror")
                            || e.to_string().contains("other side")),
                    "{:?}",
                    plan.failed
                );
                read[3] += 1;
                read[4] += features.len();
                read[5] += pieces.len();
                // And what is written today says of which version it is.
                assert_eq!(Kind::Side.write(&side).unwrap()["version"], 1);
            }
        }
    }
    assert!(read.iter().all(|n| *n > 0), "{read:?}");
}

/// The first release's figures stand where they stood: a box of 24 ft by 86 in with its five rivet columns.
#[test]
fn the_first_releases_side_is_the_same_side() {
    let folder = project().join("crates/server/tests/releases/1");
    let job = json(&folder.join("mobile-library.json"));
    let row = &job["sides"][0];
    let unit = Unit::InchSixteenth;
    let side: Side = kept(Kind::Side, &row["body"], unit).unwrap();
    let features: Vec<SideFeature> = row["features"]
        .as_array()
        .unwrap()
        .iter()
        .map(|f| SideFeature {
            id: serde_json::from_value(f["id"].clone()).unwrap(),
            feature: kept(Kind::Feature, &f["spec"], unit).unwrap(),
        })
        .collect();
    let measured = measure(&side, &features).unwrap();
    let b = measured.outline.bounds;
    assert!(
        (b.width() - 24.0 * 304.8).abs() < 1e-6 && (b.height() - 86.0 * 25.4).abs() < 1e-6,
        "{b:?}"
    );
    assert_eq!(measured.columns.len(), 5);
    assert!((measured.columns[0].heads[0].x - 46.75 * 25.4).abs() < 1e-6);
    assert_eq!(measured.columns[0].heads.len(), 13);
}
