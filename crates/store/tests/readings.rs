//! What sensors read, on a real PostgreSQL: of each minute the first, of the last ones all.

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_store::entity::device_reading;
use windrift_testkit::{Cluster, small_shop};

#[tokio::test]
async fn a_bay_is_read_minute_by_minute_and_its_last_minutes_whole() {
    let cluster = Cluster::start().await;
    let store = cluster.store().await;
    let shop = small_shop(&store).await;
    let device = Uuid::now_v7();
    store
        .make_device(device, shop.crew[0], "Bay 1", "wall", "air", vec![7; 32])
        .await
        .unwrap();
    // Ten minutes, one in ten seconds, from a full minute on.
    let begun = OffsetDateTime::from_unix_timestamp(1_795_867_200).unwrap();
    let readings: Vec<device_reading::Model> = (0..60_i32)
        .map(|n| device_reading::Model {
            device_id: device,
            at: begun + Duration::seconds(10 * i64::from(n)),
            received: begun,
            celsius: f64::from(n),
            humidity: 50.0,
            surface: None,
        })
        .collect();
    assert_eq!(store.keep_readings(device, readings).await.unwrap(), 60);
    let all_since = begun + Duration::minutes(8);
    let found = store
        .readings_by_minute(device, begun + Duration::minutes(2), all_since)
        .await
        .unwrap();
    // From the third minute to the eighth its first reading, then all twelve.
    let told: Vec<f64> = found.iter().map(|r| r.celsius).collect();
    let mut wanted: Vec<f64> = (2..8).map(|m| f64::from(6 * m)).collect();
    wanted.extend((48..60).map(f64::from));
    assert_eq!(told, wanted);
    let other = store
        .readings_by_minute(Uuid::now_v7(), begun, all_since)
        .await
        .unwrap();
    assert!(other.is_empty());
}
