namespace Nippers.Data.People;

/// <summary>Where this installation puts its backups. There is one row, or none for what is usual.</summary>
public sealed class BackupPlan
{
    public int Id { get; set; }

    /// <summary>Folder of the nightly ones; null for beside the database.</summary>
    public string? Folder { get; set; }

    /// <summary>Folder of the copy in a second place; null for none.</summary>
    public string? Second { get; set; }

    /// <summary>Minutes between two of that copy.</summary>
    public int SecondMinutes { get; set; }
}
