namespace Nippers.App;

/// <summary>Keeps what nobody may read from the database file alone: who has a copy of it has no key.</summary>
public interface ISecrets
{
    /// <summary>Encrypts a text.</summary>
    string Hide(string text);

    /// <summary>The text again; null when it was hidden by an installation with another key.</summary>
    string? Show(string hidden);
}
