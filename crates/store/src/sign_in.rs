//! Who is signed in where, what proves that somebody is themselves, every try, and the audit list.
//!
//! Passphrases and PINs come here as hashes, tokens of devices as hashes too: nothing that is kept lets anybody in.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder,
    QuerySelect, Set, Statement, TransactionTrait,
};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::entity::{audit, crew, guess, passphrase, pin, session, session_crew};
use crate::{Store, StoreError};

/// Most rows of a list of sessions.
pub const MOST_SESSIONS: u64 = 200;
/// Rows of one page of the audit list.
pub const AUDIT_PAGE: u64 = 100;
/// Tries are let go after so long.
const TRIES_KEPT: Duration = Duration::days(1);
/// When a session was seen last is written so seldom.
const SEEN_EVERY: Duration = Duration::minutes(1);

/// A session with the people who are signed in on its device, the first one first.
#[derive(Debug, Clone)]
pub struct Signed {
    /// The device.
    pub session: session::Model,
    /// Who showed there that they are themselves.
    pub people: Vec<crew::Model>,
}

/// How many tries went wrong, and when the last one was.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Wrong {
    /// Since the last right one, within the time asked for.
    pub times: u64,
    /// The last of them.
    pub last: Option<OffsetDateTime>,
}

impl Store {
    /// Whether people without a passphrase sign in with one press: only in the made-up shop.
    pub async fn is_open(&self) -> Result<bool, StoreError> {
        let row = self
            .db
            .query_one_raw(Statement::from_string(
                DbBackend::Postgres,
                "SELECT coalesce(bool_or(open), false) AS open FROM shop",
            ))
            .await?;
        Ok(match row {
            Some(row) => row.try_get("", "open")?,
            None => false,
        })
    }

    /// Opens the made-up shop to everybody; never one in which somebody has a passphrase.
    pub async fn open_to_all(&self) -> Result<(), StoreError> {
        self.db
            .execute_unprepared(
                "UPDATE shop SET open = true WHERE NOT EXISTS (SELECT 1 FROM passphrase)",
            )
            .await?;
        Ok(())
    }

    /// From now on everybody needs a passphrase. Whether it was open until now.
    pub async fn close_to_all(&self) -> Result<bool, StoreError> {
        let closed = self
            .db
            .execute_unprepared("UPDATE shop SET open = false WHERE open")
            .await?;
        Ok(closed.rows_affected() > 0)
    }

    /// What proves that somebody is themselves, if anything does.
    pub async fn passphrase_of(&self, who: Uuid) -> Result<Option<passphrase::Model>, StoreError> {
        Ok(passphrase::Entity::find_by_id(who).one(&self.db).await?)
    }

    /// Who has a passphrase that may sign in.
    pub async fn with_passphrase(&self) -> Result<Vec<passphrase::Model>, StoreError> {
        Ok(passphrase::Entity::find().all(&self.db).await?)
    }

    /// The hash of somebody's PIN, if they have one.
    pub async fn pin_of(&self, who: Uuid) -> Result<Option<String>, StoreError> {
        Ok(pin::Entity::find_by_id(who)
            .one(&self.db)
            .await?
            .map(|p| p.hash))
    }

    /// Sets somebody's passphrase by its hash, and ends their part of every session but `but`. `until`: good for one sign-in until
    /// then.
    pub async fn set_passphrase(
        &self,
        who: Uuid,
        hash: &str,
        until: Option<OffsetDateTime>,
        but: Option<Uuid>,
    ) -> Result<(), StoreError> {
        let within = self.db.begin().await?;
        let row = passphrase::ActiveModel {
            crew_id: Set(who),
            hash: Set(hash.into()),
            once: Set(until.is_some()),
            expires: Set(until),
            at: Set(OffsetDateTime::now_utc()),
        };
        passphrase::Entity::insert(row)
            .on_conflict(
                OnConflict::column(passphrase::Column::CrewId)
                    .update_columns([
                        passphrase::Column::Hash,
                        passphrase::Column::Once,
                        passphrase::Column::Expires,
                        passphrase::Column::At,
                    ])
                    .to_owned(),
            )
            .exec_without_returning(&within)
            .await?;
        let mut others =
            session_crew::Entity::delete_many().filter(session_crew::Column::CrewId.eq(who));
        if let Some(but) = but {
            others = others.filter(session_crew::Column::SessionId.ne(but));
        }
        others.exec(&within).await?;
        within.commit().await?;
        Ok(())
    }

    /// Sets the passphrase of whoever has none; `false`, and nothing changed, where there is one.
    pub async fn set_first_passphrase(&self, who: Uuid, hash: &str) -> Result<bool, StoreError> {
        let row = passphrase::ActiveModel {
            crew_id: Set(who),
            hash: Set(hash.into()),
            once: Set(false),
            expires: Set(None),
            at: Set(OffsetDateTime::now_utc()),
        };
        let rows = passphrase::Entity::insert(row)
            .on_conflict(
                OnConflict::column(passphrase::Column::CrewId)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(rows > 0)
    }

    /// Uses a passphrase that is good once: `false` where somebody else was quicker or it is another by now.
    pub async fn use_up(&self, who: Uuid, hash: &str) -> Result<bool, StoreError> {
        let gone = passphrase::Entity::delete_many()
            .filter(passphrase::Column::CrewId.eq(who))
            .filter(passphrase::Column::Hash.eq(hash))
            .filter(passphrase::Column::Once.eq(true))
            .exec(&self.db)
            .await?;
        Ok(gone.rows_affected == 1)
    }

    /// Sets somebody's PIN by its hash.
    pub async fn set_pin(&self, who: Uuid, hash: &str) -> Result<(), StoreError> {
        let row = pin::ActiveModel {
            crew_id: Set(who),
            hash: Set(hash.into()),
            at: Set(OffsetDateTime::now_utc()),
        };
        pin::Entity::insert(row)
            .on_conflict(
                OnConflict::column(pin::Column::CrewId)
                    .update_columns([pin::Column::Hash, pin::Column::At])
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Lets somebody in no more: passphrase and PIN are gone, and their part of every session.
    pub async fn shut_out(&self, who: Uuid) -> Result<(), StoreError> {
        let within = self.db.begin().await?;
        passphrase::Entity::delete_by_id(who).exec(&within).await?;
        pin::Entity::delete_by_id(who).exec(&within).await?;
        session_crew::Entity::delete_many()
            .filter(session_crew::Column::CrewId.eq(who))
            .exec(&within)
            .await?;
        within.commit().await?;
        Ok(())
    }

    /// Signs a device in, with its first person.
    pub async fn begin_session(&self, new: session::Model, who: Uuid) -> Result<(), StoreError> {
        let within = self.db.begin().await?;
        let id = new.id;
        let row: session::ActiveModel = new.into();
        session::Entity::insert(row)
            .exec_without_returning(&within)
            .await?;
        join(&within, id, who).await?;
        within.commit().await?;
        Ok(())
    }

    /// Somebody else showed on this device that they are themselves.
    pub async fn join_session(&self, id: Uuid, who: Uuid) -> Result<(), StoreError> {
        join(&self.db, id, who).await
    }

    /// The session whose token has this hash, with its people, while it lasts.
    pub async fn session_of(&self, token_hash: &[u8]) -> Result<Option<Signed>, StoreError> {
        let now = OffsetDateTime::now_utc();
        let Some(found) = session::Entity::find()
            .filter(session::Column::TokenHash.eq(token_hash.to_vec()))
            .filter(session::Column::Ended.is_null())
            .filter(session::Column::Expires.gt(now))
            .one(&self.db)
            .await?
        else {
            return Ok(None);
        };
        if now - found.seen > SEEN_EVERY {
            let seen = session::ActiveModel {
                id: Set(found.id),
                seen: Set(now),
                ..Default::default()
            };
            session::Entity::update(seen).exec(&self.db).await?;
        }
        let people = self.people_of(&[found.id]).await?;
        Ok(Some(Signed {
            session: found,
            people: people.into_iter().map(|(_, who)| who).collect(),
        }))
    }

    /// Who is signed in on these devices, the first one of each first.
    async fn people_of(&self, ids: &[Uuid]) -> Result<Vec<(Uuid, crew::Model)>, StoreError> {
        let parts = async {
            let parts = session_crew::Entity::find()
                .filter(session_crew::Column::SessionId.is_in(ids.to_vec()))
                .order_by_asc(session_crew::Column::At);
            Ok(parts.all(&self.db).await?)
        };
        // At once: every request waits for both.
        let (parts, crew) = tokio::try_join!(parts, self.crew())?;
        let member = |id| crew.iter().find(|c| c.id == id).cloned();
        Ok(parts
            .into_iter()
            .filter_map(|p| Some((p.session_id, member(p.crew_id)?)))
            .collect())
    }

    /// Sessions that last, the one seen last first.
    pub async fn sessions(&self) -> Result<Vec<Signed>, StoreError> {
        let all = session::Entity::find()
            .filter(session::Column::Ended.is_null())
            .filter(session::Column::Expires.gt(OffsetDateTime::now_utc()))
            .order_by_desc(session::Column::Seen)
            .limit(MOST_SESSIONS)
            .all(&self.db)
            .await?;
        let ids: Vec<Uuid> = all.iter().map(|s| s.id).collect();
        let people = self.people_of(&ids).await?;
        Ok(all
            .into_iter()
            .map(|session| Signed {
                people: people
                    .iter()
                    .filter(|(id, _)| *id == session.id)
                    .map(|(_, who)| who.clone())
                    .collect(),
                session,
            })
            .collect())
    }

    /// Ends a session. The same again changes nothing.
    ///
    /// Errors: there is none.
    pub async fn end_session(&self, id: Uuid) -> Result<(), StoreError> {
        let found = session::Entity::find_by_id(id).one(&self.db).await?;
        if found
            .ok_or(StoreError::NotFound("session"))?
            .ended
            .is_none()
        {
            let row = session::ActiveModel {
                id: Set(id),
                ended: Set(Some(OffsetDateTime::now_utc())),
                ..Default::default()
            };
            session::Entity::update(row).exec(&self.db).await?;
        }
        Ok(())
    }

    /// Writes a try down before it is looked at: as if it were wrong.
    pub async fn try_begins(&self, id: Uuid, name: &str, address: &str) -> Result<(), StoreError> {
        guess::Entity::delete_many()
            .filter(guess::Column::At.lt(OffsetDateTime::now_utc() - TRIES_KEPT))
            .exec(&self.db)
            .await?;
        let row = guess::ActiveModel {
            id: Set(id),
            name: Set(name.into()),
            address: Set(address.into()),
            at: Set(OffsetDateTime::now_utc()),
            was_right: Set(false),
        };
        guess::Entity::insert(row)
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// This try was right.
    pub async fn try_was_right(&self, id: Uuid) -> Result<(), StoreError> {
        let row = guess::ActiveModel {
            id: Set(id),
            was_right: Set(true),
            ..Default::default()
        };
        guess::Entity::update(row).exec(&self.db).await?;
        Ok(())
    }

    /// This try was not looked at: it does not count.
    pub async fn forget_try(&self, id: Uuid) -> Result<(), StoreError> {
        guess::Entity::delete_by_id(id).exec(&self.db).await?;
        Ok(())
    }

    /// Who has a PIN.
    pub async fn with_pin(&self) -> Result<Vec<Uuid>, StoreError> {
        let all = pin::Entity::find().all(&self.db).await?;
        Ok(all.into_iter().map(|p| p.crew_id).collect())
    }

    /// What went wrong under this name since the last right try, and from this address at all, both since `since`; this try not counted.
    pub async fn wrong_tries(
        &self,
        but: Uuid,
        name: &str,
        address: &str,
        since: OffsetDateTime,
    ) -> Result<(Wrong, Wrong), StoreError> {
        let right = guess::Entity::find()
            .filter(guess::Column::Name.eq(name))
            .filter(guess::Column::WasRight.eq(true))
            .filter(guess::Column::At.gt(since))
            .order_by_desc(guess::Column::At)
            .one(&self.db)
            .await?;
        let of_name = guess::Entity::find()
            .filter(guess::Column::Name.eq(name))
            .filter(guess::Column::At.gt(right.map_or(since, |r| r.at)));
        let of_address = guess::Entity::find()
            .filter(guess::Column::Address.eq(address))
            .filter(guess::Column::At.gt(since));
        let mut wrong = Vec::new();
        for tries in [of_name, of_address] {
            let tries = tries
                .filter(guess::Column::WasRight.eq(false))
                .filter(guess::Column::Id.ne(but));
            let last = tries.clone().order_by_desc(guess::Column::At);
            wrong.push(Wrong {
                times: tries.count(&self.db).await?,
                last: last.one(&self.db).await?.map(|g| g.at),
            });
        }
        Ok((wrong[0], wrong[1]))
    }

    /// Adds to the audit list.
    pub async fn note_audit(
        &self,
        kind: &str,
        who: Option<Uuid>,
        about: &str,
        address: &str,
    ) -> Result<(), StoreError> {
        let row = audit::ActiveModel {
            at: Set(OffsetDateTime::now_utc()),
            kind: Set(kind.into()),
            crew_id: Set(who),
            about: Set(about.into()),
            address: Set(address.into()),
            ..Default::default()
        };
        audit::Entity::insert(row)
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// A page of the audit list, the newest first: those before number `before`.
    pub async fn audit_list(&self, before: Option<i64>) -> Result<Vec<audit::Model>, StoreError> {
        let mut all = audit::Entity::find().order_by_desc(audit::Column::N);
        if let Some(before) = before {
            all = all.filter(audit::Column::N.lt(before));
        }
        Ok(all.limit(AUDIT_PAGE).all(&self.db).await?)
    }
}

async fn join(db: &impl ConnectionTrait, session: Uuid, who: Uuid) -> Result<(), StoreError> {
    let row = session_crew::ActiveModel {
        session_id: Set(session),
        crew_id: Set(who),
        at: Set(OffsetDateTime::now_utc()),
    };
    session_crew::Entity::insert(row)
        .on_conflict(
            OnConflict::columns([
                session_crew::Column::SessionId,
                session_crew::Column::CrewId,
            ])
            .do_nothing()
            .to_owned(),
        )
        .exec_without_returning(db)
        .await?;
    Ok(())
}
