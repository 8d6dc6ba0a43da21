//! What every route works at: the store, the shop's ways, plans that were made already, where computation is done and files are read.

use std::collections::{HashMap, VecDeque};
use std::ops::Deref;
use std::path::PathBuf;
use std::sync::{Arc, Mutex, PoisonError};

use rocket::request::{FromRequest, Outcome, Request};
use rocket::tokio::sync::watch;
use sha2::{Digest, Sha256};
use uuid::Uuid;
use windrift_core::art::typeface::{Typeface, Typefaces};
use windrift_core::vehicle::side::words::SideKind;
use windrift_store::{JobRows, OwnTypeface, SideRows, Store, StoreError};

use crate::Proxied;
use crate::compute::Compute;
use crate::door::Clients;
use crate::floods::Floods;
use crate::planned::{PlannedSide, SketchedSide};
use crate::problem::Problem;
use crate::ways::{Ways, own_id, settings_of};
use crate::worker::Worker;

/// Computations at once: one for each core of the smallest machine that Windrift is meant for.
const AT_ONCE: usize = 2;

/// Planned sides that are kept.
const MOST_PLANS: usize = 96;
/// Sketched sides that are kept: some pages of the yard.
const MOST_SKETCHES: usize = 240;

/// What the server keeps beside the store: nothing that could not be worked out again.
#[derive(Clone)]
pub struct Kept {
    compute: Compute,
    /// Reads files in processes of their own.
    pub worker: Worker,
    fonts: Arc<Mutex<Fonts>>,
    plans: Arc<Shelf<PlannedSide>>,
    sketches: Arc<Shelf<SketchedSide>>,
    floods: Floods,
}

type PlanKey = [u8; 32];

/// The shop's own typefaces that are open, by the hash of their file.
#[derive(Default)]
struct Fonts {
    open: HashMap<String, Arc<Typeface>>,
    /// The list that the typefaces were put together from last.
    of: Option<(Vec<OwnTypeface>, Typefaces)>,
}

impl Kept {
    /// `program` is this program's own file: files are read by calling it.
    pub fn new(program: PathBuf) -> Kept {
        Kept {
            compute: Compute::new(AT_ONCE),
            worker: Worker::new(program),
            fonts: Arc::default(),
            plans: Shelf::of(MOST_PLANS),
            sketches: Shelf::of(MOST_SKETCHES),
            floods: Floods::default(),
        }
    }
}

/// What a route works at.
pub struct Desk {
    store: Store,
    kept: Kept,
    client: String,
    ip: Option<std::net::IpAddr>,
    gone: Option<watch::Receiver<bool>>,
}

impl Deref for Desk {
    type Target = Store;

    fn deref(&self) -> &Store {
        &self.store
    }
}

#[rocket::async_trait]
impl<'r> FromRequest<'r> for &'r Desk {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        let rocket = request.rocket();
        let (Some(store), Some(kept)) = (rocket.state::<Store>(), rocket.state::<Kept>()) else {
            return Outcome::Forward(rocket::http::Status::InternalServerError);
        };
        let remote = request.remote();
        let client = rocket
            .state::<Clients>()
            .and_then(|clients| clients.behind(remote?.port()));
        // Not what a header says of the machine: whoever asks could write there what it likes.
        let ip = client.as_ref().map(|c| c.ip).or(remote.map(|r| r.ip()));
        // But where all come by a proxy, the last one in its list is whom the proxy itself saw.
        let proxied = rocket.state::<Proxied>().is_some_and(|p| p.0);
        let forwarded = request.headers().get_one("X-Forwarded-For");
        let seen = forwarded.and_then(|f| f.rsplit(',').next()?.trim().parse().ok());
        let ip = if proxied { seen.or(ip) } else { ip };
        let crew = request.headers().get_one("Crew-Id");
        let crew = crew.and_then(|id| id.parse::<Uuid>().ok());
        // Who asks: the person where one is named, from the machine that the connection comes from.
        let desk = request.local_cache(|| Desk {
            store: store.clone(),
            kept: kept.clone(),
            client: format!("{ip:?} {}", crew.unwrap_or_default()),
            ip,
            gone: client.map(|c| c.gone),
        });
        Outcome::Success(desk)
    }
}

impl Desk {
    /// Reads files in processes of their own.
    pub fn worker(&self) -> &Worker {
        &self.kept.worker
    }

    /// The machine that the connection comes from.
    pub fn address(&self) -> String {
        self.ip
            .map_or_else(|| "unknown".into(), |ip| ip.to_string())
    }

    /// Refuses a device that sends more often than any needs to, before anything else is done for it.
    pub fn not_too_often(&self, key_hash: &[u8]) -> Result<(), Problem> {
        self.kept.floods.take(key_hash)
    }

    /// Computes, in the client's turn, off the threads that answer.
    pub async fn compute<T: Send + 'static>(
        &self,
        compute: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        self.kept
            .compute
            .run(&self.client, self.gone.clone(), compute)
            .await
    }

    /// The shop; one without a name and with nothing settled where none is set up yet.
    pub async fn shop_or_empty(&self) -> Result<windrift_store::entity::shop::Model, Problem> {
        match self.store.shop().await {
            Err(windrift_store::StoreError::NotFound(_)) => {
                Ok(windrift_store::entity::shop::Model {
                    id: 1,
                    name: String::new(),
                    settings: serde_json::Value::Object(serde_json::Map::new()),
                    revision: 0,
                    crew_id: None,
                })
            }
            found => Ok(found?),
        }
    }

    /// The shop's ways as they stand.
    ///
    /// Errors: settings that cannot be read are said to be so; they never become defaults.
    pub async fn ways(&self) -> Result<Ways, Problem> {
        let shop = self.shop_or_empty().await?;
        let own = self.store.typefaces().await?;
        Ok(Ways {
            settings: settings_of(&shop.settings)?,
            revision: shop.revision,
            faces: self.faces(&own).await?,
            own,
        })
    }

    /// The typefaces of a list: files that are not open yet are opened.
    pub async fn faces(&self, own: &[OwnTypeface]) -> Result<Typefaces, Problem> {
        let fonts = || {
            self.kept
                .fonts
                .lock()
                .unwrap_or_else(PoisonError::into_inner)
        };
        if let Some((of, faces)) = &fonts().of
            && of == own
        {
            return Ok(faces.clone());
        }
        let mut faces = Vec::new();
        for OwnTypeface { id, name, hash, .. } in own {
            // The same file under two names is two typefaces.
            let known_as = format!("{hash} {id}");
            let known = fonts().open.get(&known_as).cloned();
            let face = match known {
                Some(face) => face,
                None => {
                    let file = self.store.typeface_file(*id).await?;
                    match Typeface::open(&own_id(*id), name, file) {
                        Ok(face) => Arc::new(face),
                        // Lettering that is cut in it says so; everything else goes on.
                        Err(error) => {
                            tracing::warn!(%error, name, "a typeface of the shop's own");
                            continue;
                        }
                    }
                }
            };
            fonts().open.insert(known_as, Arc::clone(&face));
            faces.push(face);
        }
        let faces = Typefaces::with_own(faces);
        fonts().of = Some((own.to_vec(), faces.clone()));
        Ok(faces)
    }

    /// A side of a job, planned: as it was worked out before, where nothing that it follows from is another.
    pub async fn planned(
        &self,
        job: &JobRows,
        side: Uuid,
        ways: &Ways,
    ) -> Result<Arc<PlannedSide>, Problem> {
        let key = plan_key(job, side, ways)?;
        if let Some(plan) = self.kept.plans.get(&key) {
            return Ok(plan);
        }
        let (job, ways) = (job.clone(), ways.clone());
        let planned = self
            .compute(move || PlannedSide::of(&job, side, &ways))
            .await??;
        Ok(self.kept.plans.keep(key, planned))
    }

    /// A side as it is planned now, by its rows.
    pub async fn planned_as_it_is(&self, rows: &SideRows) -> Result<Arc<PlannedSide>, Problem> {
        let job = self.job(rows.job.id).await?;
        let ways = self.ways().await?;
        self.planned(&job, rows.side.id, &ways).await
    }

    /// A side of a job for a picture of it: no more is worked out than a picture needs, and only where nothing stands that was before.
    pub async fn sketched(
        &self,
        job: &JobRows,
        side: Uuid,
        ways: &Ways,
    ) -> Result<Arc<SketchedSide>, Problem> {
        let key = plan_key(job, side, ways)?;
        if let Some(sketch) = self.kept.sketches.get(&key) {
            return Ok(sketch);
        }
        let (job, ways) = (job.clone(), ways.clone());
        let sketched = self
            .compute(move || SketchedSide::of(&job, side, &ways))
            .await??;
        Ok(self.kept.sketches.keep(key, sketched))
    }
}

/// Answers that were worked out, the one asked for last first, at most so many.
struct Shelf<T> {
    most: usize,
    kept: Mutex<VecDeque<(PlanKey, Arc<T>)>>,
}

impl<T> Shelf<T> {
    fn of(most: usize) -> Arc<Shelf<T>> {
        Arc::new(Shelf {
            most,
            kept: Mutex::default(),
        })
    }

    fn get(&self, key: &PlanKey) -> Option<Arc<T>> {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        let at = kept.iter().position(|(k, _)| k == key)?;
        let found = kept.remove(at)?;
        let answer = Arc::clone(&found.1);
        kept.push_front(found);
        Some(answer)
    }

    fn keep(&self, key: PlanKey, answer: T) -> Arc<T> {
        let answer = Arc::new(answer);
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        kept.push_front((key, Arc::clone(&answer)));
        kept.truncate(self.most);
        answer
    }
}

/// What a plan follows from: the side's rows by key and revision, those of the side that mirrors it, the job's unit, the shop's ways. A
/// row's revision never comes back with other content; an edit on one side leaves the plans of the others.
fn plan_key(job: &JobRows, side: Uuid, ways: &Ways) -> Result<PlanKey, Problem> {
    let mut hash = Sha256::new();
    let mut row = |id: Uuid, revision: i32| {
        hash.update(id.as_bytes());
        hash.update(revision.to_be_bytes());
    };
    let kind = |rows: &SideRows| -> Option<SideKind> {
        serde_json::from_value(rows.side.spec.get("kind")?.clone()).ok()
    };
    let own = job.sides.iter().find(|s| s.side.id == side);
    let own = own.and_then(kind);
    // A kind that cannot be seen here may be the one that mirrors.
    let mirrors = |rows: &SideRows| match (own, kind(rows)) {
        (Some(own), Some(other)) => own.mirror() == Some(other),
        _ => true,
    };
    row(side, 0);
    for s in &job.sides {
        row(s.side.id, s.side.revision);
        if s.side.id == side {
            // Which pieces hang locked is part of a sketch.
            s.locks.iter().for_each(|l| row(l.piece_id, l.seq as i32));
        }
        if s.side.id == side || mirrors(s) {
            s.features.iter().for_each(|f| row(f.id, f.revision));
            s.pieces.iter().for_each(|p| row(p.id, p.revision));
        }
    }
    hash.update(job.job.unit.as_bytes());
    hash.update(serde_json::to_vec(&ways.settings).map_err(StoreError::from)?);
    for own in &ways.own {
        hash.update(own.id.as_bytes());
        hash.update(own.hash.as_bytes());
    }
    Ok(hash.finalize().into())
}
