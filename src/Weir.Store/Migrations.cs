using FluentMigrator;

namespace Weir.Store;

/// <summary>Who wants mail of what is written about a dashboard.</summary>
[Migration(10, "Mail of remarks")]
public sealed class MailOfRemarks : Migration
{
    /// <inheritdoc/>
    public override void Up() =>
        Create.Table("remark_mail").WithColumn("user_name").AsString(64).PrimaryKey().WithColumn("dashboard").AsString(100).PrimaryKey();

    /// <inheritdoc/>
    public override void Down() => Delete.Table("remark_mail");
}

/// <summary>Runs of reports, what each reader gets of them, what people subscribed to, and what they write about dashboards.</summary>
[Migration(9, "Runs of reports, subscriptions, remarks")]
public sealed class RunsOfReports : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Create
            .Table("runs")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("report")
            .AsString(100)
            .NotNullable()
            .WithColumn("due")
            .AsString(40)
            .NotNullable()
            .WithColumn("why")
            .AsString(10)
            .NotNullable()
            .WithColumn("asked_by")
            .AsString(64)
            .Nullable()
            .WithColumn("state")
            .AsString(10)
            .NotNullable()
            .Indexed()
            .WithColumn("version")
            .AsInt64()
            .Nullable()
            .WithColumn("begun")
            .AsString(40)
            .Nullable()
            .WithColumn("ended")
            .AsString(40)
            .Nullable()
            .WithColumn("attempts")
            .AsInt64()
            .NotNullable()
            .WithColumn("next")
            .AsString(40)
            .NotNullable()
            .WithColumn("reason")
            .AsString(1000)
            .Nullable()
            .WithColumn("statements")
            .AsInt64()
            .NotNullable()
            .WithColumn("milliseconds")
            .AsInt64()
            .NotNullable();
        // A time at which a report is due is there once, whoever plans it.
        Create.Index("runs_due").OnTable("runs").OnColumn("report").Ascending().OnColumn("due").Ascending().WithOptions().Unique();
        Create
            .Table("deliveries")
            .WithColumn("run")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("reader")
            .AsString(100)
            .PrimaryKey()
            .WithColumn("title")
            .AsString(200)
            .NotNullable()
            .WithColumn("way")
            .AsString(10)
            .NotNullable()
            .WithColumn("address")
            .AsString(500)
            .Nullable()
            .WithColumn("state")
            .AsString(10)
            .NotNullable()
            .Indexed()
            .WithColumn("attempts")
            .AsInt64()
            .NotNullable()
            .WithColumn("next")
            .AsString(40)
            .NotNullable()
            .WithColumn("reason")
            .AsString(1000)
            .Nullable()
            .WithColumn("at")
            .AsString(40)
            .Nullable()
            .WithColumn("file")
            .AsString(40)
            .Nullable()
            .WithColumn("words")
            .AsString(int.MaxValue)
            .Nullable();
        Create
            .Table("run_files")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("run")
            .AsString(40)
            .NotNullable()
            .Indexed()
            .WithColumn("name")
            .AsString(200)
            .NotNullable()
            .WithColumn("media_type")
            .AsString(200)
            .NotNullable()
            .WithColumn("content")
            .AsBinary(int.MaxValue)
            .NotNullable()
            .WithColumn("message")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("picture")
            .AsBinary(int.MaxValue)
            .Nullable();
        Create
            .Table("schedule_marks")
            .WithColumn("report")
            .AsString(100)
            .PrimaryKey()
            .WithColumn("schedule")
            .AsString(2000)
            .NotNullable()
            .WithColumn("looked_until")
            .AsString(40)
            .NotNullable();
        Create
            .Table("subscriptions")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .Indexed()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .WithColumn("when_words")
            .AsString(400)
            .NotNullable()
            .WithColumn("zone")
            .AsString(100)
            .NotNullable()
            .WithColumn("end_key")
            .AsString(64)
            .NotNullable()
            .WithColumn("form")
            .AsString(10)
            .NotNullable()
            .WithColumn("state")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("since")
            .AsString(40)
            .NotNullable();
        Create
            .Table("remarks")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .Indexed()
            .WithColumn("tile")
            .AsString(64)
            .Nullable()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("text")
            .AsString(4000)
            .NotNullable()
            .WithColumn("link")
            .AsString(8000)
            .NotNullable()
            .WithColumn("at")
            .AsString(40)
            .NotNullable()
            .WithColumn("done")
            .AsString(40)
            .Nullable()
            .WithColumn("done_by")
            .AsString(64)
            .Nullable();
        Create
            .Table("remark_answers")
            .WithColumn("seq")
            .AsInt64()
            .PrimaryKey()
            .Identity()
            .WithColumn("remark")
            .AsString(40)
            .NotNullable()
            .Indexed()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("text")
            .AsString(4000)
            .NotNullable()
            .WithColumn("at")
            .AsString(40)
            .NotNullable();
    }

    /// <inheritdoc/>
    public override void Down()
    {
        foreach (
            var table in (ReadOnlySpan<string>)
                ["runs", "deliveries", "run_files", "schedule_marks", "subscriptions", "remarks", "remark_answers"]
        )
            Delete.Table(table);
    }
}

/// <summary>Dashboards of somebody's own that others may look at.</summary>
[Migration(8, "Shares of own dashboards")]
public sealed class OwnDashboardShares : Migration
{
    /// <inheritdoc/>
    public override void Up() =>
        Create
            .Table("own_shares")
            .WithColumn("user_name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("path")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("kind")
            .AsString(10)
            .PrimaryKey()
            .WithColumn("name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("since")
            .AsString(40)
            .NotNullable();

    /// <inheritdoc/>
    public override void Down() => Delete.Table("own_shares");
}

/// <summary>Drafts that were handed to those who publish.</summary>
[Migration(7, "Drafts handed over")]
public sealed class DraftsHandedOver : Migration
{
    /// <inheritdoc/>
    public override void Up() =>
        Create
            .Table("handed_drafts")
            .WithColumn("user_name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("path")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("base")
            .AsInt64()
            .NotNullable()
            .WithColumn("text")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("why")
            .AsString(1000)
            .NotNullable()
            .WithColumn("at")
            .AsString(40)
            .NotNullable();

    /// <inheritdoc/>
    public override void Down() => Delete.Table("handed_drafts");
}

/// <summary>From which published version each step of a draft goes on.</summary>
[Migration(6, "Versions of draft steps")]
public sealed class BasesOfSteps : Migration
{
    /// <inheritdoc/>
    public override void Up() => Alter.Table("draft_steps").AddColumn("base").AsInt64().Nullable();

    /// <inheritdoc/>
    public override void Down() => Delete.Column("base").FromTable("draft_steps");
}

/// <summary>Drafts of definition files with their steps, and why a version was published.</summary>
[Migration(5, "Drafts, and reasons of versions")]
public sealed class DraftsAndReasons : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Alter.Table("versions").AddColumn("why").AsString(1000).NotNullable().WithDefaultValue("");
        Create
            .Table("drafts")
            .WithColumn("user_name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("path")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("base")
            .AsInt64()
            .NotNullable()
            .WithColumn("step")
            .AsInt64()
            .NotNullable()
            .WithColumn("changed")
            .AsString(40)
            .NotNullable();
        Create
            .Table("draft_steps")
            .WithColumn("user_name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("path")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("step")
            .AsInt64()
            .PrimaryKey()
            .WithColumn("text")
            .AsString(int.MaxValue)
            .NotNullable();
    }

    /// <inheritdoc/>
    public override void Down()
    {
        Delete.Table("draft_steps");
        Delete.Table("drafts");
        Delete.Column("why").FromTable("versions");
    }
}

/// <summary>Which requests for a change of a view were carried out, so that one that is sent again is not carried out twice.</summary>
[Migration(4, "Requests for changes of views")]
public sealed class ViewRequests : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Create
            .Table("view_requests")
            .WithColumn("seq")
            .AsInt64()
            .PrimaryKey()
            .Identity()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .WithColumn("view")
            .AsString(20)
            .NotNullable()
            .WithColumn("request")
            .AsString(64)
            .NotNullable();
        Create
            .Index("view_requests_of")
            .OnTable("view_requests")
            .OnColumn("user_name")
            .Ascending()
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("view")
            .Ascending()
            .OnColumn("request")
            .Ascending()
            .WithOptions()
            .Unique();
    }

    /// <inheritdoc/>
    public override void Down() => Delete.Table("view_requests");
}

/// <summary>Several views of a dashboard for each viewer: those with a name beside the one without.</summary>
[Migration(3, "Named views")]
public sealed class NamedViews : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Alter.Table("view_edits").AddColumn("view").AsString(20).NotNullable().WithDefaultValue("");
        Create
            .Index("view_edits_of_view")
            .OnTable("view_edits")
            .OnColumn("user_name")
            .Ascending()
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("view")
            .Ascending()
            .OnColumn("seq")
            .Ascending();
        Delete.Index("view_edits_of").OnTable("view_edits");
        Create
            .Table("named_views")
            .WithColumn("seq")
            .AsInt64()
            .PrimaryKey()
            .Identity()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .WithColumn("view")
            .AsString(20)
            .NotNullable()
            .WithColumn("title")
            .AsString(60)
            .NotNullable()
            .WithColumn("opens_first")
            .AsBoolean()
            .NotNullable()
            .WithColumn("removed")
            .AsBoolean()
            .NotNullable();
        Create
            .Index("named_views_of")
            .OnTable("named_views")
            .OnColumn("user_name")
            .Ascending()
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("view")
            .Ascending()
            .WithOptions()
            .Unique();
        Create
            .Table("view_shares")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .WithColumn("view")
            .AsString(20)
            .NotNullable()
            .WithColumn("kind")
            .AsString(10)
            .NotNullable()
            .WithColumn("name")
            .AsString(64)
            .NotNullable()
            .WithColumn("edits")
            .AsString(int.MaxValue)
            .Nullable();
        Create
            .Index("view_shares_of")
            .OnTable("view_shares")
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("kind")
            .Ascending()
            .OnColumn("name")
            .Ascending();
    }

    /// <inheritdoc/>
    public override void Down()
    {
        Delete.Table("view_shares");
        Delete.Table("named_views");
        Create
            .Index("view_edits_of")
            .OnTable("view_edits")
            .OnColumn("user_name")
            .Ascending()
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("seq")
            .Ascending();
        Delete.Index("view_edits_of_view").OnTable("view_edits");
        Delete.Column("view").FromTable("view_edits");
    }
}

/// <summary>To which host each secret is bound, what was last published from where, and who is signed in.</summary>
[Migration(2, "Hosts of secrets, origins of versions, sessions")]
public sealed class SecretHosts : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Create
            .Table("secret_hosts")
            .WithColumn("secret")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("host")
            .AsString(400)
            .NotNullable()
            .WithColumn("version")
            .AsInt64()
            .NotNullable();
        Create
            .Table("sessions")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .Indexed()
            .WithColumn("ends")
            .AsString(40)
            .NotNullable();
        Create
            .Table("published_from")
            .WithColumn("origin")
            .AsString(200)
            .PrimaryKey()
            .WithColumn("files")
            .AsString(int.MaxValue)
            .NotNullable();
    }

    /// <inheritdoc/>
    public override void Down()
    {
        Delete.Table("secret_hosts");
        Delete.Table("sessions");
        Delete.Table("published_from");
    }
}

/// <summary>What the service remembers, first version.</summary>
[Migration(1, "First tables")]
public sealed class FirstTables : Migration
{
    /// <inheritdoc/>
    public override void Up()
    {
        Create
            .Table("users")
            .WithColumn("name")
            .AsString(64)
            .PrimaryKey()
            .WithColumn("title")
            .AsString(200)
            .NotNullable()
            .WithColumn("password_hash")
            .AsString(400)
            .NotNullable()
            .WithColumn("roles")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("attributes")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("loopback_only")
            .AsBoolean()
            .NotNullable();
        Create
            .Table("tokens")
            .WithColumn("id")
            .AsString(40)
            .PrimaryKey()
            .WithColumn("hash")
            .AsString(64)
            .NotNullable()
            .Unique()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .Indexed()
            .WithColumn("label")
            .AsString(200)
            .NotNullable()
            .WithColumn("created")
            .AsString(40)
            .NotNullable()
            .WithColumn("expires")
            .AsString(40)
            .NotNullable();
        Create
            .Table("versions")
            .WithColumn("number")
            .AsInt64()
            .PrimaryKey()
            .WithColumn("published")
            .AsString(40)
            .NotNullable()
            .WithColumn("published_by")
            .AsString(64)
            .NotNullable()
            .WithColumn("files")
            .AsString(int.MaxValue)
            .NotNullable();
        Create
            .Table("view_edits")
            .WithColumn("seq")
            .AsInt64()
            .PrimaryKey()
            .Identity()
            .WithColumn("user_name")
            .AsString(64)
            .NotNullable()
            .WithColumn("dashboard")
            .AsString(64)
            .NotNullable()
            .WithColumn("version")
            .AsInt64()
            .NotNullable()
            .WithColumn("edit")
            .AsString(int.MaxValue)
            .NotNullable()
            .WithColumn("made")
            .AsString(40)
            .NotNullable()
            .WithColumn("undone")
            .AsBoolean()
            .NotNullable();
        Create
            .Index("view_edits_of")
            .OnTable("view_edits")
            .OnColumn("user_name")
            .Ascending()
            .OnColumn("dashboard")
            .Ascending()
            .OnColumn("seq")
            .Ascending();
        Create
            .Table("audit")
            .WithColumn("id")
            .AsInt64()
            .PrimaryKey()
            .Identity()
            .WithColumn("at")
            .AsString(40)
            .NotNullable()
            .WithColumn("who")
            .AsString(64)
            .NotNullable()
            .WithColumn("act")
            .AsString(64)
            .NotNullable()
            .WithColumn("what")
            .AsString(1000)
            .NotNullable();
    }

    /// <inheritdoc/>
    public override void Down()
    {
        foreach (var table in (ReadOnlySpan<string>)["users", "tokens", "versions", "view_edits", "audit"])
            Delete.Table(table);
    }
}
