//! Reading jobs and sides, and making new ones.

use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{
    ActiveModelTrait, ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait,
    PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Set, Statement, TransactionTrait,
};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{
    crew, feature, hinge_lock, job, marked_vehicle, marking, piece, plan, shop, side,
};
use crate::{LaidPiece, Store, StoreError};

/// A side with everything on it.
#[derive(Debug, Clone)]
pub struct SideRows {
    /// The job that it belongs to.
    pub job: job::Model,
    /// The side itself.
    pub side: side::Model,
    /// Its features, oldest first.
    pub features: Vec<feature::Model>,
    /// Its pieces, oldest first.
    pub pieces: Vec<piece::Model>,
    /// Locks of its pieces.
    pub locks: Vec<hinge_lock::Model>,
    /// Its pieces that were laid down.
    pub laid: Vec<LaidPiece>,
    /// What is settled about its marking.
    pub marking: Option<marking::Model>,
    /// The job's vehicle as the rules of marking see it.
    pub vehicle: Option<marked_vehicle::Model>,
}

/// A side that a job starts with.
#[derive(Debug, Clone)]
pub struct NewSide {
    /// Its key.
    pub id: Uuid,
    /// What is kept.
    pub spec: Value,
    /// Features on it: key and what is kept.
    pub features: Vec<(Uuid, Value)>,
}

/// A job with its sides and what is on them.
#[derive(Debug, Clone)]
pub struct JobRows {
    /// The job.
    pub job: job::Model,
    /// Its sides, oldest first.
    pub sides: Vec<SideRows>,
    /// When its newest plan was issued.
    pub newest_plan: Option<OffsetDateTime>,
}

impl Store {
    /// The shop.
    pub async fn shop(&self) -> Result<shop::Model, StoreError> {
        shop::Entity::find_by_id(1)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("shop"))
    }

    /// Sets up the shop. One that is set up already stays as somebody left it.
    pub async fn set_up_shop(&self, name: &str, settings: Value) -> Result<(), StoreError> {
        let row = shop::ActiveModel {
            id: Set(1),
            name: Set(name.into()),
            settings: Set(settings),
            revision: Set(1),
            crew_id: Set(None),
        };
        shop::Entity::insert(row)
            .on_conflict(OnConflict::column(shop::Column::Id).do_nothing().to_owned())
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Opens an empty shop with its first person, both or neither. Whether it is theirs: `false` where somebody opened it before, `true`
    /// also where the same person did.
    pub async fn open_shop(
        &self,
        name: &str,
        settings: Value,
        lead: crew::Model,
    ) -> Result<bool, StoreError> {
        let within = self.db.begin().await?;
        // One at a time: whether anybody is there must not change meanwhile.
        within
            .execute_raw(Statement::from_string(
                DbBackend::Postgres,
                "SELECT pg_advisory_xact_lock(hashtext('windrift first shop'))",
            ))
            .await?;
        if let Some(first) = crew::Entity::find()
            .order_by_asc(crew::Column::Position)
            .one(&within)
            .await?
        {
            return Ok(first.id == lead.id);
        }
        let shop = shop::ActiveModel {
            id: Set(1),
            name: Set(name.into()),
            settings: Set(settings),
            revision: Set(1),
            crew_id: Set(None),
        };
        shop::Entity::insert(shop)
            .on_conflict(OnConflict::column(shop::Column::Id).do_nothing().to_owned())
            .exec_without_returning(&within)
            .await?;
        let lead: crew::ActiveModel = lead.into();
        crew::Entity::insert(lead)
            .exec_without_returning(&within)
            .await?;
        within.commit().await?;
        Ok(true)
    }

    /// The crew in the shop's order.
    pub async fn crew(&self) -> Result<Vec<crew::Model>, StoreError> {
        Ok(crew::Entity::find()
            .order_by_asc(crew::Column::Position)
            .all(&self.db)
            .await?)
    }

    /// One member of the crew.
    pub async fn crew_member(&self, id: Uuid) -> Result<crew::Model, StoreError> {
        crew::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("crew member"))
    }

    /// Renames a member of the crew and gives them a part.
    ///
    /// Errors: [`StoreError::NotFound`] where there is nobody with that key.
    pub async fn change_crew(&self, id: Uuid, name: &str, role: &str) -> Result<(), StoreError> {
        let statement = Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT change_crew($1, $2, $3) AS found",
            [id.into(), name.into(), role.into()],
        );
        let row = self.db.query_one_raw(statement).await?;
        let found = row.is_some_and(|r| r.try_get("", "found").unwrap_or(false));
        if !found {
            return Err(StoreError::NotFound("crew member"));
        }
        Ok(())
    }

    /// Adds a member of the crew; the same id again changes nothing.
    pub async fn add_crew(&self, member: crew::Model) -> Result<(), StoreError> {
        let row: crew::ActiveModel = member.into();
        crew::Entity::insert(row)
            .on_conflict(OnConflict::column(crew::Column::Id).do_nothing().to_owned())
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// One page of jobs, newest first, and how many there are in all: those in the yard, or those that are finished; where `find` has words,
    /// all whose title, customer, vehicle, year or lettering has each of them.
    pub async fn jobs(
        &self,
        page: u64,
        page_size: u64,
        find: &str,
        finished: bool,
    ) -> Result<(Vec<JobRows>, u64), StoreError> {
        let mut wanted = job::Entity::find();
        // What is looked for is looked for everywhere.
        if find.trim().is_empty() {
            let out = "EXISTS (SELECT 1 FROM finished_job f WHERE f.job_id = job.id)";
            wanted = wanted.filter(match finished {
                true => Expr::cust(out),
                false => Expr::cust(format!("NOT {out}")),
            });
        }
        for word in find.split_whitespace() {
            let plain = word
                .replace('\\', "\\\\")
                .replace('%', "\\%")
                .replace('_', "\\_");
            let like = format!("%{plain}%");
            // Each job's words stand in one place: however many jobs there are, one short table is looked through.
            wanted = wanted.filter(Expr::cust_with_values(
                "job.id IN (SELECT job_id FROM job_words WHERE words ILIKE $1)",
                [like.as_str()],
            ));
        }
        let page = (wanted.clone())
            .order_by_desc(job::Column::CreatedAt)
            .order_by_desc(job::Column::Id)
            .offset(page * page_size)
            .limit(page_size);
        let (total, jobs) = tokio::try_join!(wanted.count(&self.db), page.all(&self.db))?;
        Ok((self.whole_jobs(jobs).await?, total))
    }

    /// One job with its sides.
    pub async fn job(&self, id: Uuid) -> Result<JobRows, StoreError> {
        let job = job::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        self.whole_jobs(vec![job])
            .await?
            .pop()
            .ok_or(StoreError::NotFound("job"))
    }

    /// The job that a side belongs to.
    pub async fn side(&self, id: Uuid) -> Result<SideRows, StoreError> {
        let side = side::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("side"))?;
        let job = job::Entity::find_by_id(side.parent_id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        self.whole_sides(vec![(job, side)])
            .await?
            .pop()
            .ok_or(StoreError::NotFound("side"))
    }

    /// The side that a feature or piece stands on.
    pub async fn side_of_piece(&self, piece: Uuid) -> Result<SideRows, StoreError> {
        let row = piece::Entity::find_by_id(piece)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("piece"))?;
        self.side(row.parent_id).await
    }

    /// The side that a feature stands on.
    pub async fn side_of_feature(&self, feature: Uuid) -> Result<SideRows, StoreError> {
        let row = feature::Entity::find_by_id(feature)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("feature"))?;
        self.side(row.parent_id).await
    }

    async fn whole_jobs(&self, jobs: Vec<job::Model>) -> Result<Vec<JobRows>, StoreError> {
        let ids: Vec<Uuid> = jobs.iter().map(|j| j.id).collect();
        let sides = side::Entity::find()
            .filter(side::Column::ParentId.is_in(ids.iter().copied()))
            .order_by_asc(side::Column::Id)
            .all(&self.db)
            .await?;
        let pairs = sides
            .into_iter()
            .filter_map(|s| {
                jobs.iter()
                    .find(|j| j.id == s.parent_id)
                    .map(|j| (j.clone(), s))
            })
            .collect();
        let plans = async {
            let newest = plan::Entity::find()
                .select_only()
                .column(plan::Column::JobId)
                .column_as(plan::Column::At.max(), "at")
                .filter(plan::Column::JobId.is_in(ids))
                .group_by(plan::Column::JobId)
                .into_tuple::<(Uuid, OffsetDateTime)>();
            Ok(newest.all(&self.db).await?)
        };
        let (sides, plans) = tokio::try_join!(self.whole_sides(pairs), plans)?;
        Ok(jobs
            .into_iter()
            .map(|job| JobRows {
                sides: sides
                    .iter()
                    .filter(|s| s.job.id == job.id)
                    .cloned()
                    .collect(),
                newest_plan: plans
                    .iter()
                    .find(|(id, _)| *id == job.id)
                    .map(|(_, at)| *at),
                job,
            })
            .collect())
    }

    async fn whole_sides(
        &self,
        sides: Vec<(job::Model, side::Model)>,
    ) -> Result<Vec<SideRows>, StoreError> {
        let ids: Vec<Uuid> = sides.iter().map(|(_, s)| s.id).collect();
        let jobs: Vec<Uuid> = sides.iter().map(|(j, _)| j.id).collect();
        // None of these waits for another: every page and every tap reads a job.
        let (features, pieces, markings, vehicles) = tokio::try_join!(
            feature::Entity::find()
                .filter(feature::Column::ParentId.is_in(ids.iter().copied()))
                .order_by_asc(feature::Column::Id)
                .all(&self.db),
            piece::Entity::find()
                .filter(piece::Column::ParentId.is_in(ids.iter().copied()))
                .order_by_asc(piece::Column::Id)
                .all(&self.db),
            marking::Entity::find()
                .filter(marking::Column::ParentId.is_in(ids.iter().copied()))
                .all(&self.db),
            marked_vehicle::Entity::find()
                .filter(marked_vehicle::Column::ParentId.is_in(jobs))
                .all(&self.db),
        )?;
        let keys: Vec<Uuid> = pieces.iter().map(|p| p.id).collect();
        let (locks, laid) = tokio::try_join!(self.locks(&keys), self.laid(&keys))?;
        Ok(sides
            .into_iter()
            .map(|(job, side)| SideRows {
                features: features
                    .iter()
                    .filter(|f| f.parent_id == side.id)
                    .cloned()
                    .collect(),
                pieces: pieces
                    .iter()
                    .filter(|p| p.parent_id == side.id)
                    .cloned()
                    .collect(),
                locks: locks
                    .iter()
                    .filter(|l| {
                        pieces
                            .iter()
                            .any(|p| p.id == l.piece_id && p.parent_id == side.id)
                    })
                    .cloned()
                    .collect(),
                laid: laid
                    .iter()
                    .filter(|l| {
                        pieces
                            .iter()
                            .any(|p| p.id == l.piece && p.parent_id == side.id)
                    })
                    .cloned()
                    .collect(),
                marking: markings.iter().find(|m| m.parent_id == side.id).cloned(),
                vehicle: vehicles.iter().find(|v| v.parent_id == job.id).cloned(),
                job,
                side,
            })
            .collect())
    }

    /// Starts a job with its first sides and what is on them, in one transaction. The same id again returns the job that stands.
    pub async fn start_job(
        &self,
        new: job::Model,
        sides: Vec<NewSide>,
    ) -> Result<JobRows, StoreError> {
        let id = new.id;
        let transaction = self.db.begin().await?;
        if !is_begun(&transaction, new).await? {
            transaction.rollback().await?;
            return self.job(id).await;
        }
        for new in sides {
            let row = side::ActiveModel {
                id: Set(new.id),
                parent_id: Set(id),
                revision: Set(1),
                spec: Set(new.spec),
            };
            row.insert(&transaction).await?;
            let features: Vec<feature::ActiveModel> = new
                .features
                .into_iter()
                .map(|(feature, spec)| feature::ActiveModel {
                    id: Set(feature),
                    parent_id: Set(new.id),
                    revision: Set(1),
                    spec: Set(spec),
                })
                .collect();
            if !features.is_empty() {
                feature::Entity::insert_many(features)
                    .exec_without_returning(&transaction)
                    .await?;
            }
        }
        transaction.commit().await?;
        self.job(id).await
    }
}

/// Begins a job's row; `false` where there is one under its key. Two that begin it at once: the second waits for the first here, and then
/// finds it.
pub(crate) async fn is_begun(
    transaction: &DatabaseTransaction,
    new: job::Model,
) -> Result<bool, StoreError> {
    let row: job::ActiveModel = new.into();
    let begun = job::Entity::insert(row)
        .on_conflict(OnConflict::column(job::Column::Id).do_nothing().to_owned())
        .exec_without_returning(transaction)
        .await?;
    Ok(begun == 1)
}
