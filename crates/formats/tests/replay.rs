//! The kept corpora of the fuzz targets, and each with some damage, through the same functions: a short, deterministic replay of what
//! `tools/fuzz` does by the million.

#[path = "../../../fuzz/src/lib.rs"]
mod targets;

use std::path::Path;

/// Damages bytes in a way that follows from a number alone.
fn damaged(whole: &[u8], mut number: u64) -> Vec<u8> {
    let mut bytes = whole.to_vec();
    for _ in 0..=number % 6 {
        // Numerical Recipes' linear congruential generator: any fixed one does.
        number = number
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        let at = (number >> 33) as usize % bytes.len().max(1);
        match number >> 60 & 3 {
            0 => bytes[at] ^= 1 << (number & 7),
            1 => bytes.truncate(at.max(1)),
            2 => bytes.insert(at, (number >> 20) as u8),
            _ => {
                let piece: Vec<u8> = bytes[at..].iter().copied().take(40).collect();
                bytes.extend(piece);
            }
        }
    }
    bytes
}

fn replay(target: &str, times: u64, run: fn(&[u8])) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../../../fuzz/corpus")
        .join(target);
    let mut seeds: Vec<_> = std::fs::read_dir(folder)
        .unwrap()
        .map(|f| f.unwrap().path())
        .collect();
    seeds.sort();
    assert!(!seeds.is_empty());
    for seed in seeds {
        let whole = std::fs::read(seed).unwrap();
        run(&whole);
        for number in 0..times {
            run(&damaged(&whole, number * 7919 + whole.len() as u64));
        }
    }
}

#[test]
fn lengths() {
    replay("lengths", 400, targets::lengths);
}

#[test]
fn svg() {
    replay("svg", 40, targets::svg);
}

#[test]
fn dxf() {
    replay("dxf", 40, targets::dxf);
}

#[test]
fn fonts() {
    replay("font", 60, targets::font);
}

#[test]
fn images() {
    replay("image", 60, targets::image);
}

#[test]
fn json() {
    replay("json", 40, targets::json);
}
