//! Migrations. They only go forward.

use sea_orm_migration::prelude::*;

pub(crate) struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![Box::new(FirstTables)]
    }
}

struct FirstTables;

impl MigrationName for FirstTables {
    fn name(&self) -> &str {
        "m20261124_000001_first_tables"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for FirstTables {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .get_connection()
            .execute_unprepared(include_str!("migrations/first_tables.sql"))
            .await?;
        Ok(())
    }
}
