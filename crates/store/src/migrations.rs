//! Migrations. They only go forward.

use sea_orm_migration::prelude::*;

pub(crate) struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(Step(
                "m20261124_000001_first_tables",
                include_str!("migrations/first_tables.sql"),
            )),
            Box::new(Step(
                "m20261125_000002_photos_and_templates",
                include_str!("migrations/photos_and_templates.sql"),
            )),
            Box::new(Step(
                "m20261126_000003_typefaces",
                include_str!("migrations/typefaces.sql"),
            )),
            Box::new(Step(
                "m20261127_000004_marking",
                include_str!("migrations/marking.sql"),
            )),
            Box::new(Step(
                "m20261128_000005_trust",
                include_str!("migrations/trust.sql"),
            )),
        ]
    }
}

/// One step: its name, and the SQL that takes it.
struct Step(&'static str, &'static str);

impl MigrationName for Step {
    fn name(&self) -> &str {
        self.0
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Step {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(self.1).await?;
        Ok(())
    }
}
